import { useFonts } from "../../api/queries";
import { Phrase } from "../../ui/Phrase";
import { FontChooser } from "../FontChooser";
import { VALUE } from "../../ui/value";
import type { SlotProps } from "./types";
import { isLettering } from "../../design/lettering";

/** The font, in the sentence. */
export function FontValue({ value, line, slot, onChange }: SlotProps) {
  const fonts = useFonts();
  const font = String(value);
  const name = fonts.data?.find((one) => one.id === font)?.name ?? (font.startsWith("own-") ? "a font that is gone" : font);
  return (
    <FontChooser
      label={slot.label}
      words={isLettering(line) ? (line.rows[0]?.text ?? "") : ""}
      chosen={font}
      onChoose={onChange}
      trigger={
        <Phrase aria-label={`Font: ${name}`} className={VALUE}>
          {name}
        </Phrase>
      }
    />
  );
}
