import { useMutation } from "@tanstack/react-query";
import { fetchMade } from "../api/client";
import { Button } from "../ui/Button";
import { say, sayProblem } from "../ui/notices";
import { download } from "./download";

interface Props {
  id: string;
  name: string;
  ready: boolean;
  saveNow: () => Promise<number>;
}

/** All sheets as the shop's cutter reads them, in one click. */
export function SheetFilesButton({ id, name, ready, saveNow }: Props) {
  const make = useMutation({
    mutationFn: async () => download(await fetchMade(id, "sheet-files", await saveNow()), `${name} - sheets.zip`),
    onSuccess: () => say(`Sheets of “${name}” made for the cutter, true size.`),
    onError: sayProblem,
  });
  return (
    <Button look="main" disabled={!ready || make.isPending} onClick={() => make.mutate()}>
      {make.isPending ? "Making the files…" : "Download the sheets"}
    </Button>
  );
}
