/** Lengths as people type and read them. Everything is kept in millimetres. */

export type Unit = "mm" | "in";

const PER_UNIT: Record<string, number> = { mm: 1, cm: 10, in: 25.4, '"': 25.4, "″": 25.4, inch: 25.4, inches: 25.4 };

const TOKEN = /\s*(?:(\d+\.?\d*|\.\d+)|(mm|cm|inches|inch|in|"|″)|([-+*/()]))/y;

/** A quantity being worked out: its figure, and whether a unit has made it millimetres. */
interface Quantity {
  value: number;
  length: boolean;
}

/**
 * Millimetres from what was typed; a bare number is in the given unit. Null when it is no length.
 *
 * Takes fractions ("1 1/2 in"), units in any mixture ("1 in + 5 mm") and arithmetic ("254/2", "3*(20+4)").
 */
export function parseLength(text: string, unit: Unit): number | null {
  const found = workedOut(text, PER_UNIT[unit] ?? 1);
  return found && (found.length ? found.value : found.value * (PER_UNIT[unit] ?? 1));
}

/** What a sum comes to; a bare number beside a length counts so many millimetres. */
function workedOut(text: string, perUnit: number): Quantity | null {
  const tidy = text
    .trim()
    .toLowerCase()
    .replaceAll(",", ".")
    .replaceAll("−", "-")
    .replaceAll("×", "*")
    .replaceAll("½", " 1/2")
    .replaceAll("¼", " 1/4")
    .replaceAll("¾", " 3/4");
  const tokens = tokensOf(tidy);
  if (!tokens) return null;
  const worker = new Worker(tokens, perUnit);
  const found = worker.sum();
  return found && worker.done && Number.isFinite(found.value) ? found : null;
}

function tokensOf(text: string): string[] | null {
  const tokens: string[] = [];
  TOKEN.lastIndex = 0;
  while (TOKEN.lastIndex < text.length) {
    const match = TOKEN.exec(text);
    if (!match) return null;
    tokens.push(match[0].trim());
  }
  return tokens.length ? tokens : null;
}

const isNumber = (token: string | undefined) => token !== undefined && /^[\d.]/.test(token);

/** Works out tokens: sums of products of numbers, each with a unit or without. */
class Worker {
  private at = 0;

  constructor(
    private readonly tokens: string[],
    private readonly perUnit: number,
  ) {}

  get done() {
    return this.at === this.tokens.length;
  }

  sum(): Quantity | null {
    let left = this.product();
    while (left && (this.sees("+") || this.sees("-"))) {
      const sign = this.tokens[this.at++] === "+" ? 1 : -1;
      const right = this.product();
      if (!right) return null;
      // "1 in + 5": the bare number is in the unit shown.
      const length = left.length || right.length;
      const mm = (one: Quantity) => (length && !one.length ? one.value * this.perUnit : one.value);
      left = { value: mm(left) + sign * mm(right), length };
    }
    return left;
  }

  private product(): Quantity | null {
    let left = this.single();
    while (left && (this.sees("*") || this.sees("/"))) {
      const times = this.tokens[this.at++] === "*";
      // In "1/16 in" it is the sixteenth that is in inches.
      const right = this.single(times);
      // A length times a length is an area.
      if (!right || (right.length && left.length) || (!times && right.value === 0)) return null;
      left = { value: times ? left.value * right.value : left.value / right.value, length: left.length || right.length };
      left = this.withUnit(left);
    }
    return left;
  }

  private single(takesUnit = true): Quantity | null {
    if (this.sees("-") || this.sees("+")) {
      const sign = this.tokens[this.at++] === "-" ? -1 : 1;
      if (this.sees("-") || this.sees("+")) return null;
      const of = this.single(takesUnit);
      return of && { ...of, value: sign * of.value };
    }
    if (this.sees("(")) {
      this.at++;
      const inner = this.sum();
      if (!inner || !this.sees(")")) return null;
      this.at++;
      return takesUnit ? this.withUnit(inner) : inner;
    }
    if (!isNumber(this.tokens[this.at])) return null;
    let value = Number(this.tokens[this.at++]);
    // A mixed fraction: "1 1/2".
    if (isNumber(this.tokens[this.at])) {
      const [top, bar, bottom] = this.tokens.slice(this.at, this.at + 3);
      if (bar !== "/" || !isNumber(bottom) || !Number.isInteger(value)) return null;
      value += Number(top) / Number(bottom);
      this.at += 3;
    }
    const figure = { value, length: false };
    return takesUnit ? this.withUnit(figure) : figure;
  }

  private withUnit(of: Quantity): Quantity {
    const per = PER_UNIT[this.tokens[this.at] ?? ""];
    if (per === undefined || of.length) return of;
    this.at++;
    return { value: of.value * per, length: true };
  }

  private sees(token: string) {
    return this.tokens[this.at] === token;
  }
}

function trim(value: number, decimals: number): string {
  return String(Number(value.toFixed(decimals))).replace("-", "−");
}

/** A length as shown in a sentence, with its unit. */
export function formatLength(mm: number, unit: Unit): string {
  return unit === "in" ? `${trim(mm / 25.4, 3)} in` : `${trim(mm, 2)} mm`;
}

/** How a figure reads, how it is read back, how far a key steps it, and what is said when it cannot be read. */
export interface Reading {
  format: (value: number) => string;
  parse: (text: string) => number | null;
  step: (usual: number) => number;
  hint: string;
  /** the other unit it can be read in, and how it reads then */
  other?: { unit: Unit; format: (value: number) => string };
}

export function lengthIn(unit: Unit): Reading {
  return {
    format: (mm) => formatLength(mm, unit),
    parse: (text) => parseLength(text, unit),
    step: (usual) => stepIn(unit, usual),
    hint: "Not a length. Try 1.5, 2 cm, 1/16 in or 254/2.",
    other: { unit: unit === "mm" ? "in" : "mm", format: (mm) => formatLength(mm, unit === "mm" ? "in" : "mm") },
  };
}

/** A figure that is no length, with its sign: sums work here too. */
function figure(sign: string, hint: string): Reading {
  return {
    format: (value) => trim(value, 2) + sign,
    parse: (text) => {
      const found = workedOut(text.replaceAll(sign.trim() || " ", " "), 1);
      return found && !found.length ? found.value : null;
    },
    step: (usual) => usual,
    hint,
  };
}

export const PERCENT = figure(" %", "Not a percentage. Try 75 or 100*2/3.");
export const SECONDS = figure(" s", "Not a time in seconds. Try 10 or 4.5.");
export const CELSIUS = figure(" °C", "Not a temperature. Try 150.");
export const SPEED = figure(" mm/s", "Not a speed in mm a second. Try 40.");
export const DEGREES = figure("°", "Not an angle. Try 15 or 360/7.");
export const PLAIN = figure("", "Not a number. Try 640 or 900/2.");

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
function stepIn(unit: Unit, step: number): number {
  return unit === "in" ? Math.max(step, 0.1) * 0.254 * 2.5 : step;
}

/** A sentence that speaks of millimetres, in the unit shown; what stands in quotes is left alone. */
export function inUnit(sentence: string, unit: Unit): string {
  if (unit === "mm") return sentence;
  const inches = (mm: string) => {
    const value = Number(mm) / 25.4;
    return String(Math.abs(value) < 0.01 ? Number(value.toPrecision(2)) : Number(value.toFixed(3)));
  };
  const said = (part: string) =>
    part.replace(/(?:(-?\d+\.?\d*) to )?(-?\d+\.?\d*) mm\b/g, (_, low: string | undefined, mm: string) =>
      `${low === undefined ? "" : `${inches(low)} to `}${inches(mm)} in`,
    );
  return sentence
    .split(/(“[^”]*”)/)
    .map((part, i) => (i % 2 ? part : said(part)))
    .join("");
}

/** To thousandths, or finer: what of a figure counts. */
export const tidied = (value: number, decimals = 3) => Math.round(value * 10 ** decimals) / 10 ** decimals;
