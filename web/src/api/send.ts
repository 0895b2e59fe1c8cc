/** Calls whose answers are still to come. */
const underWay = new Set<Promise<Response>>();
/** Settled once nobody is on his way in. */
let door: Promise<unknown> = Promise.resolve();
/** How long somebody who signs in waits at most for what was asked before, in ms. */
const LONGEST = 5000;

function cookie(name: string): string {
  const found = document.cookie.split("; ").find((part) => part.startsWith(`${name}=`));
  return found ? decodeURIComponent(found.slice(name.length + 1)) : "";
}

function fetched(call: Request): Promise<Response> {
  if (call.method !== "GET") call.headers.set("X-CSRFToken", cookie("csrftoken"));
  const answer = fetch(call).finally(() => underWay.delete(answer));
  underWay.add(answer);
  return answer;
}

/** Send a call to the server, once nobody is on his way in: with his session, and its token. */
export async function send(call: Request): Promise<Response> {
  await door;
  return fetched(call);
}

/**
 * Send a call that signs somebody in, with nothing else under way.
 *
 * What was asked while he was out is refused, and a refusal that comes after he is in would take him
 * for signed out again and, as it removes the cookie of the old session, sign him out.
 */
export function sendAlone(call: Request): Promise<Response> {
  const before = Promise.race([Promise.allSettled([door, ...underWay]), new Promise((done) => setTimeout(done, LONGEST))]);
  const answer = before.then(() => fetched(call));
  door = answer.catch(() => undefined);
  return answer;
}
