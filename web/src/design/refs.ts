/**
 * References to results: "line id/result name", written and read here alone. A result named after another
 * one has that one's reference for its name: "l5/l1/letters".
 */

export const refTo = (line: string, result: string) => `${line}/${result}`;

/** The id of the line that makes a result; empty for no reference. */
export const lineOf = (ref: string | null | undefined) => ref?.split("/")[0] ?? "";

/** What its line calls a result. */
export const resultOf = (ref: string | null | undefined) => ref?.split("/").slice(1).join("/") ?? "";
