/** The look of a value that can be changed. */
export const VALUE =
  "rounded-sm font-semibold text-plum underline decoration-dotted underline-offset-4 hover:bg-plum-soft cursor-pointer";
