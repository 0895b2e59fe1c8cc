import { useMutation } from "@tanstack/react-query";
import { fetchMade } from "../api/client";
import { Button } from "../ui/Button";
import { say, sayProblem } from "../ui/notices";
import { download } from "./download";

interface Props {
  id: string;
  name: string;
  saveNow: () => Promise<number>;
}

/** The press plan on paper: printed from here, or as a PDF. */
export function PlanButtons({ id, name, saveNow }: Props) {
  const make = useMutation({
    mutationFn: async () => download(await fetchMade(id, "press-plan.pdf", await saveNow()), `${name} - press plan.pdf`),
    onSuccess: () => say(`Press plan of “${name}” made.`),
    onError: sayProblem,
  });
  return (
    <>
      <Button disabled={make.isPending} onClick={() => make.mutate()}>
        {make.isPending ? "Making it…" : "Download the PDF"}
      </Button>
      <Button look="main" onClick={() => print()}>
        Print this page
      </Button>
    </>
  );
}
