import { Switch } from "radix-ui";

/** A setting that is on or off, in words. */
export function Toggle({ label, on, onChange }: { label: string; on: boolean; onChange: (on: boolean) => void }) {
  return (
    <label className="flex cursor-pointer items-center justify-between gap-3">
      {label}
      <Switch.Root
        aria-label={label}
        checked={on}
        onCheckedChange={onChange}
        className="h-4.5 w-8 rounded-full bg-[#a39a86] transition-colors data-[state=checked]:bg-plum"
      >
        <Switch.Thumb className="block size-3.5 translate-x-0.5 rounded-full bg-card transition-transform data-[state=checked]:translate-x-4" />
      </Switch.Root>
    </label>
  );
}
