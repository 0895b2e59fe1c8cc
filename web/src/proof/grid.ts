import type { Unit } from "../units";

const STEPS: Record<Unit, number[]> = {
  mm: [1, 5, 10, 50, 100],
  in: [1 / 8, 1 / 4, 1 / 2, 1, 5].map((inches) => inches * 25.4),
};

/** The grid's step in mm: the finest of round figures that still can be told apart. */
export function gridStep(unit: Unit, k: number): number {
  return STEPS[unit].find((step) => step * k >= 14) ?? STEPS[unit][4] ?? 100;
}
