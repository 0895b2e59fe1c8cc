import type { SheetLaid } from "../api/client";

interface Props {
  sheet: SheetLaid;
  /** how what is kept is painted; its material's colour if not said */
  fill?: string;
  opacity?: number;
  /** only what is kept, for small pictures */
  bare?: boolean;
}

/** What was laid on a sheet: what is kept, its marks, the borders round it. */
export function Laid({ sheet, fill = sheet.colour, opacity = 1, bare = false }: Props) {
  return (
    <g>
      {sheet.placed.map(({ item, matrix }, index) => {
        const laid = sheet.items[item];
        return (
          laid && (
            <g key={index} transform={`matrix(${matrix.join(" ")})`}>
              <path d={laid.d} fill={fill} fillOpacity={opacity} fillRule="evenodd" className="stroke-ink/20" strokeWidth={0.5} vectorEffect="non-scaling-stroke" />
              {!bare && (
                <>
                  <path d={laid.marks} className="fill-ink" fillRule="evenodd" />
                  <path d={laid.border + laid.lines} fill="none" className="stroke-plum" strokeWidth={1.25} strokeDasharray="5 3" vectorEffect="non-scaling-stroke" />
                </>
              )}
            </g>
          )
        );
      })}
      <path d={bare ? "" : sheet.frame} fill="none" className="stroke-plum" strokeWidth={1.25} strokeDasharray="5 3" vectorEffect="non-scaling-stroke" />
    </g>
  );
}
