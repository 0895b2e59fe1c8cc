import type { ShelfEntry } from "../api/client";

/** A design as it will look, on its ground. */
export function FinishedPicture({ picture, className }: { picture: ShelfEntry["picture"]; className: string }) {
  const box = picture.box;
  if (!box) {
    return (
      <div className={`grid place-items-center ${className}`} style={{ background: picture.ground }}>
        <span className="rounded-md bg-card px-2 py-1 text-soft">Empty bench</span>
      </div>
    );
  }
  const [x0, y0, x1, y1] = box;
  const margin = 0.08 * Math.max(x1 - x0, y1 - y0);
  return (
    <svg
      aria-hidden
      viewBox={`${x0 - margin} ${y0 - margin} ${x1 - x0 + 2 * margin} ${y1 - y0 + 2 * margin}`}
      className={className}
      style={{ background: picture.ground }}
    >
      {picture.plies.map((ply, index) => (
        <path key={index} d={ply.d} fill={ply.colour} fillRule="evenodd" />
      ))}
    </svg>
  );
}
