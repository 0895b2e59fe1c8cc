import type { ReactNode } from "react";

/** The card that stands alone on the page while nobody is in the shop yet. */
export function Doorway({ children }: { children: ReactNode }) {
  return (
    <main className="grid min-h-screen place-items-center p-6">
      <div className="w-90 rounded-[10px] border border-line bg-card p-6">
        <h1 className="font-display text-[26px] font-bold tracking-tight text-plum">Perigram</h1>
        <p className="mt-1 text-soft">Cut-ready lettering, from words and pictures.</p>
        {children}
      </div>
    </main>
  );
}
