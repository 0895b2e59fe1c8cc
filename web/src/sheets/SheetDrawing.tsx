import { useId, useState } from "react";
import type { SheetLaid } from "../api/client";
import { formatLength, formatSize, type Unit } from "../units";
import { Laid } from "./Laid";
import { useSize } from "./useSize";

export type SheetLook = "lies" | "order" | "weeding";

interface Props {
  sheet: SheetLaid;
  /** what can be cut on of the mat it lies on */
  mat: { width: number; length: number } | undefined;
  look: SheetLook;
  /** outlines cut so far */
  done: number;
  unit: Unit;
}

/** How far in mm a mat is drawn beyond what can be cut on. */
const MAT = 9;
/** Size of figures in px. */
const LETTERS = 12;
const STEPS: Record<Unit, number> = { mm: 50, in: 50.8 };
/** More starts than this are dots without figures. */
const MOST_NUMBERED = 60;

/** One sheet from the side that is cut, in proportion, with a scale along two sides. */
export function SheetDrawing({ sheet, mat, look, done, unit }: Props) {
  const clip = useId();
  const { width, used } = sheet;
  const height = mat ? sheet.length : Math.min(sheet.length, used * 1.25 + 20);
  // A mat is seen whole, with what of it is beyond the material.
  const shown = mat ?? { width, length: height };
  const beyond = mat ? MAT : 0;
  const margin = 0.05 * Math.max(shown.width, shown.length);
  const [area, setArea] = useState<SVGSVGElement | null>(null);
  const [wide, tall] = useSize(area);
  // What is written stays as large as everywhere, however large the sheet is drawn.
  const box = [shown.width + 3 * margin + 2 * beyond, shown.length + 2.4 * margin + 2 * beyond] as const;
  const across = Math.max(box[0] / Math.max(wide, 1), box[1] / Math.max(tall, 1));
  const text = LETTERS * across;
  const step = STEPS[unit] * Math.max(1, Math.round(Math.max(width, height) / 400));
  const ticks = (length: number) => Array.from({ length: Math.floor(length / step) + 1 }, (_, i) => i * step);
  const figure = (mm: number) => (unit === "mm" ? String(mm) : String(Math.round(mm / 25.4)));
  const says =
    `${sheet.name} on ${sheet.material}, ${formatSize(width, used, unit)}${sheet.mirrored ? ", mirrored" : ""}, ` +
    `${sheet.placed.length} laid, ${sheet.figures.pieces} pieces`;

  return (
    <svg
      ref={setArea}
      role="img"
      aria-label={says}
      data-testid="sheet"
      viewBox={[-2 * margin - beyond, -1.6 * margin - beyond, ...box].join(" ")}
      className="min-h-0 w-full flex-1 p-2"
    >
      <clipPath id={clip}>
        <rect width={width} height={height} rx={width / 90} />
      </clipPath>
      {mat && (
        <g data-testid="mat">
          <rect x={-MAT} y={-MAT} width={mat.width + 2 * MAT} height={mat.length + 2 * MAT} rx={MAT} className="fill-plum-soft stroke-plum/30" vectorEffect="non-scaling-stroke" />
          <rect width={mat.width} height={mat.length} fill="none" className="stroke-plum/40" strokeWidth={1} strokeDasharray="2 3" vectorEffect="non-scaling-stroke" />
        </g>
      )}
      <g clipPath={`url(#${clip})`}>
        <rect width={width} height={height} className="fill-[#faf5ea]" />
        <rect width={width} height={used} fill={sheet.colour} fillOpacity={look === "weeding" ? 0.1 : 0.18} />
        {ticks(width).map((x) => (
          <line key={`x${x}`} x1={x} x2={x} y1={0} y2={height} className="stroke-ink/8" strokeWidth={1} vectorEffect="non-scaling-stroke" />
        ))}
        {ticks(height).map((y) => (
          <line key={`y${y}`} x1={0} x2={width} y1={y} y2={y} className="stroke-ink/8" strokeWidth={1} vectorEffect="non-scaling-stroke" />
        ))}
        <Laid sheet={sheet} opacity={look === "order" ? 0.25 : 1} />
        {look === "weeding" && <Small sheet={sheet} />}
        {used < height && (
          <line x1={0} x2={width} y1={used} y2={used} className="stroke-brick" strokeWidth={1.25} strokeDasharray="5 4" vectorEffect="non-scaling-stroke" />
        )}
      </g>
      <rect width={width} height={height} rx={width / 90} fill="none" className="stroke-[#c4b9a3]" strokeWidth={1.25} vectorEffect="non-scaling-stroke" />
      {look === "order" && <Order sheet={sheet} done={done} size={text} />}
      <g className="fill-soft" fontSize={text}>
        {ticks(width).map((x) => (
          <text key={x} x={x} y={-beyond - 0.5 * margin} textAnchor="middle">
            {figure(x)}
          </text>
        ))}
        {ticks(height).map((y) => (
          <text key={y} x={-beyond - 0.5 * margin} y={y + text / 3} textAnchor="end">
            {figure(y)}
          </text>
        ))}
        <text x={shown.width / 2} y={shown.length + beyond + Math.max(0.55 * margin, 1.1 * text)} textAnchor="middle">
          {sheet.mirrored ? "seen from the cutting side: mirrored" : "seen from the cutting side"}
          {used < sheet.length && ` · ${formatLength(Math.round(sheet.length - used), unit)} left over`}
        </text>
      </g>
    </svg>
  );
}

/** Where the blade goes, one outline after the other; those cut so far are drawn. */
function Order({ sheet, done, size }: { sheet: SheetLaid; done: number; size: number }) {
  const ways = sheet.order.map(({ at }) => at.join(" "));
  const radius = 0.75 * size;
  return (
    <g className="pointer-events-none">
      <path d={`M0 0L${ways.join("L")}`} fill="none" className="stroke-plum/60" strokeWidth={1} strokeDasharray="2 3" vectorEffect="non-scaling-stroke" />
      {sheet.order.map(({ d }, index) => (
        <path
          key={index}
          d={d}
          fill="none"
          className={index < done ? "stroke-plum" : "stroke-ink/25"}
          strokeWidth={index < done ? 2 : 1}
          vectorEffect="non-scaling-stroke"
        />
      ))}
      {sheet.order.length <= MOST_NUMBERED &&
        sheet.order.map(({ at: [x, y] }, index) => (
          <g key={index}>
            <circle cx={x} cy={y} r={radius} className="fill-plum" />
            <text x={x} y={y + 0.3 * size} textAnchor="middle" fontSize={0.85 * size} className="fill-card font-semibold">
              {index + 1}
            </text>
          </g>
        ))}
    </g>
  );
}

/** Rings round outlines that are small: bits to keep and holes to lift that are hard to get at. */
function Small({ sheet }: { sheet: SheetLaid }) {
  return (
    <g fill="none" className="pointer-events-none stroke-saffron" strokeWidth={2}>
      {sheet.small.map(([x0, y0, x1, y1], index) => (
        <circle key={index} cx={(x0 + x1) / 2} cy={(y0 + y1) / 2} r={Math.max(x1 - x0, y1 - y0) / 2 + 3} vectorEffect="non-scaling-stroke" />
      ))}
    </g>
  );
}
