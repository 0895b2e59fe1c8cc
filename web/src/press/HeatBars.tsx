import type { Design, PressPlan } from "../api/client";

/** How much heat each ply has had at the end, of what its material takes. */
export function HeatBars({ design, heat }: { design: Design; heat: PressPlan["heat"] }) {
  return (
    <div>
      <h2 className="font-display text-[15px] font-bold">Heat each ply gets</h2>
      <ul className="mt-2 flex flex-col gap-2">
        {heat.map(({ ply, seconds, most }) => (
          <li key={ply}>
            <p className="flex justify-between">
              <span className="text-soft">{design.plies.find((one) => one.id === ply)?.name}</span>
              <span className="font-semibold tabular-nums">
                {seconds} of {most} s
              </span>
            </p>
            <div aria-hidden className="mt-1 h-2 overflow-hidden rounded-full bg-line">
              <div
                className={`h-full ${seconds > most ? "bg-brick" : seconds > 0.65 * most ? "bg-saffron" : "bg-leaf"}`}
                style={{ width: `${Math.min(100, (100 * seconds) / most)}%` }}
              />
            </div>
          </li>
        ))}
      </ul>
    </div>
  );
}
