import type { Unit } from "../units";

const KEY = "perigram unit";

/** The unit the shop used last; new designs start with it. */
export function rememberedUnit(): Unit {
  return localStorage.getItem(KEY) === "in" ? "in" : "mm";
}

export function rememberUnit(unit: Unit) {
  localStorage.setItem(KEY, unit);
}
