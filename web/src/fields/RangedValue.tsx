import { useBasics } from "../api/queries";
import type { Reading } from "../units";
import { NumberValue } from "./NumberValue";

interface Props {
  /** the figure as designs call it: "Row.size"; what range it has is known there */
  of: string;
  label: string;
  value: number;
  as: Reading;
  onChange: (value: number, typed?: string) => void;
}

/** A figure beside a sentence, within the range its design gives it. */
export function RangedValue({ of, ...rest }: Props) {
  const range = useBasics().data?.ranges[of];
  return range ? <NumberValue {...rest} {...range} /> : null;
}
