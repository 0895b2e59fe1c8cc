/** Lengths as people type and read them. Everything is kept in millimetres. */

export type Unit = "mm" | "in";

const PER_UNIT: Record<string, number> = { mm: 1, cm: 10, in: 25.4, '"': 25.4, "″": 25.4, inch: 25.4, inches: 25.4 };

/** One number: "1.5", "1/16", "1 1/2", "254/2". */
function parseNumber(text: string): number | null {
  const mixed = /^([+-]?)(?:(\d+)\s+)?(\d+(?:\.\d+)?|\.\d+)(?:\s*\/\s*(\d+(?:\.\d+)?))?$/.exec(text.trim());
  if (!mixed) return null;
  const [, sign, whole, top, bottom] = mixed;
  if (whole && !bottom) return null;
  const divisor = bottom ? Number(bottom) : 1;
  if (divisor === 0) return null;
  const value = Number(whole ?? 0) + Number(top) / divisor;
  return sign === "-" ? -value : value;
}

/** Millimetres from what was typed; a bare number is in the given unit. Null when it is no length. */
export function parseLength(text: string, unit: Unit): number | null {
  const tidy = text.trim().toLowerCase().replace(",", ".").replace("−", "-").replace("½", " 1/2").replace("¼", " 1/4");
  const parts = /^(.*?)\s*(mm|cm|inches|inch|in|"|″)?$/.exec(tidy);
  if (!parts) return null;
  const value = parseNumber(parts[1] ?? "");
  return value === null ? null : value * (PER_UNIT[parts[2] ?? unit] ?? 1);
}

function trim(value: number, decimals: number): string {
  return String(Number(value.toFixed(decimals))).replace("-", "−");
}

/** A length as shown in a sentence, with its unit. */
export function formatLength(mm: number, unit: Unit): string {
  return unit === "in" ? `${trim(mm / 25.4, 3)} in` : `${trim(mm, 2)} mm`;
}

/** Two lengths as "266 × 178 mm". */
export function formatSize(width: number, height: number, unit: Unit): string {
  return unit === "in"
    ? `${trim(width / 25.4, 2)} × ${trim(height / 25.4, 2)} in`
    : `${trim(width, 1)} × ${trim(height, 1)} mm`;
}

export function formatArea(squareMm: number, unit: Unit): string {
  return unit === "in" ? `${trim(squareMm / 645.16, 1)} in²` : `${trim(squareMm / 100, squareMm < 1000 ? 1 : 0)} cm²`;
}

export function formatCutLength(mm: number, unit: Unit): string {
  return unit === "in" ? `${trim(mm / 304.8, 1)} ft` : `${trim(mm / 1000, 1)} m`;
}

/** How far one arrow key moves a number, in mm. */
export function stepIn(unit: Unit, step: number): number {
  return unit === "in" ? Math.max(step, 0.1) * 0.254 * 2.5 : step;
}
