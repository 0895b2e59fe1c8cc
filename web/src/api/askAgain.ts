import type { QueryClient, QueryKey } from "@tanstack/react-query";

/**
 * What the server was asked under a key is asked again, since it has changed.
 *
 * A first answer under way may be of before the change, and invalidating alone would wait for that one.
 */
export async function askAgain(client: QueryClient, queryKey: QueryKey) {
  await client.cancelQueries({ queryKey });
  await client.invalidateQueries({ queryKey });
}
