import type { Box, Design, Kind } from "../api/client";
import { resultOrigin } from "../design/labels";
import { useCalled, useShownResult } from "../state/shown";
import { Drawn } from "../ui/Drawn";

/** A result where one is chosen: its picture, what it is, and the line it comes from. */
export function ResultName({ design, of, kinds, says }: { design: Design; of: string; kinds: Kind[] | undefined; says?: string }) {
  const called = useCalled();
  const shown = useShownResult(of);
  return (
    <span className="flex min-w-0 flex-1 items-center gap-2.5">
      <Drawn d={shown?.d ?? ""} box={shown?.box as Box | null | undefined} className="h-7 w-10 shrink-0 text-ink/80" />
      <span className="min-w-0 flex-1 leading-snug">
        <span className="block truncate font-semibold">{called(of)}</span>
        <span className="block truncate text-soft">{says ?? resultOrigin(design, of, kinds)}</span>
      </span>
    </span>
  );
}
