import { Trash2 } from "lucide-react";
import type { Font } from "../api/client";
import { useRemoveFont } from "../api/queries";
import { Button } from "../ui/Button";

/** What a font of her own says about itself: what it has, and what its maker allows. */
export function FontFacts({ font }: { font: Font }) {
  const remove = useRemoveFont();
  if (!font.own) return null;
  const groups = Object.entries(font.coverage);
  const whole = groups.filter(([, [has, of]]) => has === of).map(([name]) => name);
  const partly = groups.filter(([, [has, of]]) => has > 0 && has < of).map(([name, [has, of]]) => `${name} ${has} of ${of}`);
  return (
    <section aria-label={`About ${font.name}`} className="mt-2 rounded-lg bg-paper p-2.5">
      <p className="font-semibold">
        {font.name} <span className="font-normal text-soft">· {font.kind}, {font.characters} characters</span>
      </p>
      <p>{font.embedding}, it says.</p>
      <p className="text-soft">Has {whole.join(", ") || "no whole alphabet"}{partly.length > 0 && `; of ${partly.join(", of ")}`}.</p>
      {font.axes.length > 0 && <p className="text-soft">Can be changed in {font.axes.map((axis) => axis.name.toLowerCase()).join(", ")}.</p>}
      {font.licence && <p className="line-clamp-2 text-soft">{font.licence}</p>}
      <Button look="quiet" className="-ml-2 h-7 px-2 text-brick" disabled={remove.isPending} onClick={() => remove.mutate(font.id)}>
        <Trash2 size={13} /> Remove from the shop
      </Button>
    </section>
  );
}
