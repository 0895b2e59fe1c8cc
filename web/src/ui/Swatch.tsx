import type { Material } from "../api/client";

/** How a finish catches the light, laid over a material's colour. */
const SHEENS: Record<Material["finish"], string> = {
  smooth: "none",
  matt: "linear-gradient(rgb(255 255 255 / 0.08), rgb(0 0 0 / 0.08))",
  gloss: "linear-gradient(135deg, rgb(255 255 255 / 0.65) 0 22%, transparent 24%)",
  flock: "radial-gradient(rgb(255 255 255 / 0.4) 0.6px, transparent 1px) 0 0 / 4px 4px",
  glitter: "radial-gradient(rgb(255 255 255 / 0.95) 0.8px, transparent 1.2px) 0 0 / 6px 5px, radial-gradient(rgb(0 0 0 / 0.35) 0.8px, transparent 1.2px) 3px 2px / 5px 7px",
  metal: "linear-gradient(115deg, rgb(255 255 255 / 0.6), transparent 40%, rgb(0 0 0 / 0.3) 60%, rgb(255 255 255 / 0.5))",
  puff: "radial-gradient(circle at 35% 30%, rgb(255 255 255 / 0.6), transparent 60%)",
};

/** A piece of a material: its colour and its finish. */
export function Swatch({ material, className = "size-8 rounded-lg" }: { material: Material; className?: string }) {
  const sheen = SHEENS[material.finish];
  return <span aria-hidden className={`shrink-0 border border-ink/15 ${className}`} style={{ background: sheen === "none" ? material.colour : `${sheen}, ${material.colour}` }} />;
}
