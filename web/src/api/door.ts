import { create } from "zustand";

/** Whether the server has forgotten who is at work here: the bench stays, and asks for the password again. */
export const useDoor = create<{ out: boolean; setOut: (out: boolean) => void }>((set) => ({
  out: false,
  setOut: (out) => set({ out }),
}));

/** Run something whenever somebody has signed in again. */
export function onSignedInAgain(run: () => void): () => void {
  return useDoor.subscribe((now, before) => {
    if (before.out && !now.out) run();
  });
}
