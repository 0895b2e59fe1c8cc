/** Something drawn small: a letter, words, a sign. */
export function Drawn({ d, box, className = "", align = "xMidYMid", fill = "evenodd" }: {
  d: string;
  box: [number, number, number, number] | null | undefined;
  className?: string;
  align?: "xMinYMid" | "xMidYMid";
  fill?: "evenodd" | "nonzero";
}) {
  if (!box) return <span className={className} />;
  const [x0, y0, x1, y1] = box;
  return (
    <svg
      aria-hidden
      viewBox={`${x0} ${y0} ${Math.max(x1 - x0, 0.01)} ${Math.max(y1 - y0, 0.01)}`}
      preserveAspectRatio={`${align} meet`}
      className={className}
    >
      <path d={d} fillRule={fill} fill="currentColor" />
    </svg>
  );
}
