import { createStore, del, entries, set } from "idb-keyval";
import type { Design } from "../api/client";

/** What was on a bench and not stored on the server yet. */
export interface Draft {
  design: Design;
  /** the revision it was based on */
  base: number;
  /** when it was last worked on */
  at: number;
}

const store = createStore("perigram-drafts", "drafts");
/** Drafts nobody took up or left go after this long. */
const KEPT = 30 * 24 * 3600 * 1000;

/** Each bench writes to a place of its own, so that two windows do not take each other's drafts away. */
const place = (user: string, design: string, bench: string) => `${user}/${design}/${bench}`;

/** A bench that is open holds this lock, so that what it has not saved yet is not offered elsewhere. */
const lockOf = (bench: string) => `perigram-bench-${bench}`;

/** Everything here may fail where the browser keeps nothing: work goes on without drafts then. */
async function quietly<T>(run: () => Promise<T>): Promise<T | undefined> {
  try {
    return await run();
  } catch {
    return undefined;
  }
}

export const keepDraft = (user: string, design: string, bench: string, draft: Draft) =>
  quietly(() => set(place(user, design, bench), draft, store));

export const dropDraft = (user: string, design: string, bench: string) =>
  quietly(() => del(place(user, design, bench), store));

/** Hold this bench's lock until the returned function is called. */
export function holdBench(bench: string): () => void {
  if (!("locks" in navigator)) return () => undefined;
  let release: () => void = () => undefined;
  const held = new Promise<void>((done) => (release = done));
  void quietly(() => navigator.locks.request(lockOf(bench), () => held));
  return () => release();
}

async function openBenches(): Promise<Set<string>> {
  const held = "locks" in navigator ? (await navigator.locks.query()).held : [];
  return new Set((held ?? []).map((lock) => lock.name ?? ""));
}

/** The latest draft of a design that no open bench is still at work on, and the bench it was made on; `mine` is this one. */
export async function leftDraft(user: string, design: string, mine: string): Promise<{ bench: string; draft: Draft } | null> {
  const found = await quietly(async () => {
    const open = await openBenches();
    const all = (await entries<string, Draft>(store)).filter(([key]) => key.startsWith(`${user}/`));
    await Promise.all(all.filter(([, one]) => Date.now() - one.at > KEPT).map(([key]) => del(key, store)));
    const left = all
      .map(([key, draft]) => ({ of: key.split("/")[1] ?? "", bench: key.split("/")[2] ?? "", draft }))
      .filter((one) => one.of === design && one.bench !== mine && !open.has(lockOf(one.bench)))
      .sort((a, b) => b.draft.at - a.draft.at);
    return left[0] ?? null;
  });
  return found ?? null;
}

