import { useEffect, useRef, useState } from "react";
import type { Design } from "../api/client";
import { type Draft, dropDraft, holdBench, keepDraft, leftDraft } from "./drafts";

/** A draft is written this often at most while she types or drags. */
const EVERY = 200;
/** What was left behind is looked for so many ms after a bench opens. */
const LOOKED = [0, 1500, 6000];

interface Bench {
  user: string;
  id: string;
  /** what the server is known to hold, and its revision */
  saved: Design;
  base: number;
  design: Design;
}

/**
 * What is not on the server yet is kept in this browser, so that a crash, a reload or a night signed out lose
 * nothing; what an earlier bench left behind is offered back.
 */
export function useDraft({ user, id, saved, base, design }: Bench) {
  const [left, setLeft] = useState<{ bench: string; draft: Draft } | null>(null);
  const [bench] = useState(() => crypto.randomUUID?.() ?? String(Math.random()).slice(2));
  const written = useRef(0);
  const kept = useRef(false);

  useEffect(() => holdBench(bench), [bench]);

  useEffect(() => {
    const look = () =>
      void leftDraft(user, id, bench).then((found) => {
        if (found && JSON.stringify(found.draft.design) !== JSON.stringify(saved)) setLeft(found);
        else if (found) void dropDraft(user, id, found.bench);
      });
    // A window that has just crashed may hold its lock a moment longer.
    const timers = LOOKED.map((after) => setTimeout(look, after));
    return () => timers.forEach(clearTimeout);
    // Only what was there when the bench was opened is offered.
    // eslint-disable-next-line react-hooks/exhaustive-deps
  }, [user, id]);

  useEffect(() => {
    if (design === saved) {
      if (kept.current) void dropDraft(user, id, bench);
      kept.current = false;
      return;
    }
    const write = () => {
      written.current = Date.now();
      kept.current = true;
      void keepDraft(user, id, bench, { design, base, at: Date.now() });
    };
    const wait = written.current + EVERY - Date.now();
    if (wait <= 0) write();
    const timer = wait > 0 ? setTimeout(write, wait) : undefined;
    return () => clearTimeout(timer);
  }, [user, id, bench, design, saved, base]);

  /** The draft was taken up or is not wanted. */
  function settle() {
    if (left) void dropDraft(user, id, left.bench);
    setLeft(null);
  }

  return { left: left?.draft ?? null, settle };
}
