import { type ComponentType, memo } from "react";
import type { Design, Line } from "../api/client";
import { onlyMoved, onlyThingsMoved } from "../design/alike";
import { gesture } from "./store";

const sameLines = (was: Line[], is: Line[]) => was.length === is.length && was.every((line, i) => onlyMoved(line, is[i]));

function same(field: string, was: unknown, is: unknown): boolean {
  if (was === is) return true;
  if (field === "design") return onlyThingsMoved(was as Design, is as Design);
  if (field === "lines") return sameLines(was as Line[], is as Line[]);
  if (Array.isArray(was) && Array.isArray(is)) return was.length === is.length && was.every((one, i) => one === is[i]);
  // What a function would do does not show.
  return typeof was === "function" && typeof is === "function";
}

/**
 * A part of the interface that is drawn anew while a hand drags things about only where more than their
 * places has changed. Once the hand lets go it is drawn as ever, so that nothing acts on what is past.
 */
export function heldStill<Props extends object>(part: ComponentType<Props>) {
  return memo(part, (was, is) => {
    const fields = Object.keys(is) as (keyof Props & string)[];
    return gesture.running && fields.every((field) => same(field, was[field], is[field]));
  });
}
