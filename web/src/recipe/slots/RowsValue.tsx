import { Plus, X } from "lucide-react";
import { gesture } from "../../bench/store";
import { Button } from "../../ui/Button";
import { IconButton } from "../../ui/IconButton";
import { Pop } from "../../ui/Pop";
import { type SlotProps, VALUE } from "./types";

type Rows = { text: string }[];

/** The words, row by row; typing shows on the proof as it happens. */
export function RowsValue({ value, slot, onChange }: SlotProps) {
  const rows = value as Rows;
  const shown = rows.map((row) => row.text.trim()).filter(Boolean);

  return (
    <Pop
      label={slot.label}
      onOpenChange={(open) => (open ? gesture.begin() : gesture.end())}
      trigger={
        <button type="button" aria-label={`Words: ${shown.join(" over ") || "no words yet"}`} className="rounded-sm text-left">
          {shown.length === 0 ? (
            <span className={VALUE}>no words yet</span>
          ) : (
            shown.map((text, index) => (
              <span key={index}>
                {index > 0 && " over "}
                <span className={VALUE}>{text}</span>
              </span>
            ))
          )}
        </button>
      }
    >
      <ul className="flex flex-col gap-2">
        {rows.map((row, index) => (
          <li key={index} className="flex items-center gap-1">
            <input
              aria-label={`Row ${index + 1}`}
              autoFocus={index === 0}
              value={row.text}
              maxLength={200}
              onChange={(event) =>
                onChange(rows.map((one, i) => (i === index ? { ...one, text: event.target.value } : one)))
              }
              onFocus={(event) => event.target.select()}
              onKeyDown={(event) => {
                if (event.key === "Enter") onChange([...rows.slice(0, index + 1), { text: "" }, ...rows.slice(index + 1)]);
              }}
              className="h-8 min-w-0 flex-1 rounded-lg border border-line bg-card px-2 hover:border-plum"
            />
            <IconButton
              label={`Remove row ${index + 1}`}
              disabled={rows.length === 1}
              onClick={() => onChange(rows.filter((_, i) => i !== index))}
            >
              <X size={14} />
            </IconButton>
          </li>
        ))}
      </ul>
      <Button look="quiet" className="mt-2" onClick={() => onChange([...rows, { text: "" }])}>
        <Plus size={14} /> Add a row
      </Button>
    </Pop>
  );
}
