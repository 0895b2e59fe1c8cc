import { Check, ChevronDown } from "lucide-react";
import { Select } from "radix-ui";
import { leaveFocusTaken } from "./focus";

interface Props {
  label: string;
  value: string;
  choices: Record<string, string>;
  onChange: (value: string) => void;
  /** "value": a plum value in a sentence; "field": a field in a panel */
  look?: "value" | "field";
}

const LOOKS = {
  value: "font-semibold text-plum underline decoration-dotted underline-offset-4 rounded-sm hover:bg-plum-soft",
  field:
    "inline-flex h-8 w-full items-center justify-between gap-2 rounded-lg border border-line bg-card px-2 hover:border-plum",
};

/** One of a few choices. */
export function Pick({ label, value, choices, onChange, look = "value" }: Props) {
  return (
    <Select.Root value={value} onValueChange={onChange}>
      <Select.Trigger aria-label={label} className={LOOKS[look]}>
        <span className={look === "field" ? "truncate" : ""}>
          <Select.Value>{choices[value] ?? "choose"}</Select.Value>
        </span>
        {look === "field" && <ChevronDown size={14} />}
      </Select.Trigger>
      <Select.Portal>
        <Select.Content
          onCloseAutoFocus={leaveFocusTaken}
          position="popper"
          sideOffset={4}
          className="z-50 min-w-(--radix-select-trigger-width) rounded-xl border border-line bg-card p-1 shadow-[0_8px_24px_rgb(38_32_43/0.14)]"
        >
          <Select.Viewport>
            {Object.entries(choices).map(([id, text]) => (
              <Select.Item
                key={id}
                value={id}
                className="flex items-center justify-between gap-4 rounded-md px-2 py-1.5 outline-none data-highlighted:bg-plum-soft"
              >
                <Select.ItemText>{text}</Select.ItemText>
                <Select.ItemIndicator>
                  <Check size={14} />
                </Select.ItemIndicator>
              </Select.Item>
            ))}
          </Select.Viewport>
        </Select.Content>
      </Select.Portal>
    </Select.Root>
  );
}
