import { useEffect } from "react";
import { gesture } from "./store";

/** In a panel: all that is changed while it is open is one step to undo, however it is closed. */
export function OneStep() {
  useEffect(() => {
    gesture.begin();
    return () => gesture.end();
  }, []);
  return null;
}
