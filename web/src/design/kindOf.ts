import type { Kind } from "../api/client";

export function kindOf(kinds: Kind[] | undefined, id: string): Kind | undefined {
  return kinds?.find((kind) => kind.id === id);
}
