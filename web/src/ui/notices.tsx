import { X } from "lucide-react";
import { Toast } from "radix-ui";
import { create } from "zustand";

interface Notice {
  id: number;
  text: string;
  tone: "plain" | "problem";
  action?: { label: string; run: () => void } | undefined;
  /** one that says how things stand takes the place of the last of its kind, and goes soon */
  about?: string | undefined;
}

interface NoticeState {
  notices: Notice[];
  add: (notice: Omit<Notice, "id">) => void;
  drop: (id: number) => void;
}

let last = 0;

const useNotices = create<NoticeState>((set) => ({
  notices: [],
  add: (notice) =>
    set(({ notices }) => {
      const others = notices.filter((one) => !notice.about || one.about !== notice.about);
      return { notices: [...others.slice(-2), { ...notice, id: ++last }] };
    }),
  drop: (id) => set((state) => ({ notices: state.notices.filter((one) => one.id !== id) })),
}));

/** Say what happened, in passing; an action such as undo may be offered with it. */
export function say(text: string, action?: Notice["action"], about?: string) {
  useNotices.getState().add({ text, tone: "plain", action, about });
}

/** Say what went wrong and what would work. */
export function sayProblem(error: unknown) {
  const text = error instanceof Error ? error.message : String(error);
  useNotices.getState().add({ text, tone: "problem" });
}

/** ms that it takes to read something said in passing, at four words a second and a moment to see it (common practice). */
const readingTime = ({ text, action, tone }: Notice) => 3000 + 250 * text.split(" ").length + (action || tone === "problem" ? 4000 : 0);

export function Notices() {
  const { notices, drop } = useNotices();
  return (
    <Toast.Provider swipeDirection="down">
      {notices.map((notice) => (
        <Toast.Root
          key={notice.id}
          duration={notice.about ? 2500 : readingTime(notice)}
          onOpenChange={(open) => {
            if (!open) drop(notice.id);
          }}
          className={`mx-auto flex w-fit max-w-full items-start gap-3 rounded-lg border px-4 py-3 text-card shadow-lg ${
            notice.tone === "problem" ? "border-brick bg-brick" : "border-ink bg-ink"
          }`}
        >
          <Toast.Description className="flex-1">{notice.text}</Toast.Description>
          {notice.action && (
            <Toast.Action altText={notice.action.label} asChild>
              <button
                type="button"
                onClick={notice.action.run}
                className="font-semibold underline underline-offset-2 focus-visible:outline-card"
              >
                {notice.action.label}
              </button>
            </Toast.Action>
          )}
          <Toast.Close aria-label="Close" className="focus-visible:outline-card">
            <X size={16} />
          </Toast.Close>
        </Toast.Root>
      ))}
      <Toast.Viewport className="fixed bottom-32 left-1/2 z-50 flex w-[min(480px,90vw)] -translate-x-1/2 flex-col gap-2" />
    </Toast.Provider>
  );
}
