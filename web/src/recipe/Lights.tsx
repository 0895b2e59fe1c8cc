import type { ReactNode } from "react";
import { useBench } from "../state/store";

/** Words that stand for things: pointed at, they light those on the proof. */
export function Lights({ refs, children }: { refs: string[]; children: ReactNode }) {
  const light = useBench((state) => state.light);
  return (
    <span onPointerEnter={() => light({ refs, by: "words" })} onPointerLeave={() => light(null)}>
      {children}
    </span>
  );
}
