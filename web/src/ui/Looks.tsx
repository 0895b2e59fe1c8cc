import { ToggleGroup } from "radix-ui";

interface Props<Look extends string> {
  looks: Record<Look, string>;
  look: Look;
  onLook: (look: Look) => void;
}

/** The ways one picture can be looked at, one of them chosen. */
export function Looks<Look extends string>({ looks, look, onLook }: Props<Look>) {
  return (
    <ToggleGroup.Root
      type="single"
      value={look}
      onValueChange={(value) => {
        if (value) onLook(value as Look);
      }}
      aria-label="Look"
      className="flex rounded-full border border-line bg-card p-0.5"
    >
      {(Object.entries(looks) as [Look, string][]).map(([id, name]) => (
        <ToggleGroup.Item key={id} value={id} className="h-7 rounded-full px-3.5 font-semibold text-soft data-[state=on]:bg-ink data-[state=on]:text-card">
          {name}
        </ToggleGroup.Item>
      ))}
    </ToggleGroup.Root>
  );
}
