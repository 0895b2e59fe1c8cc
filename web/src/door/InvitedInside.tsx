import { Link } from "react-router";
import { useSignOut } from "../api/queries";
import { Button } from "../ui/Button";
import { Doorway } from "./Doorway";

/** An invitation opened by somebody who is in a shop already: it is for an account of its own. */
export function InvitedInside({ user }: { user: string }) {
  const signOut = useSignOut();
  return (
    <Doorway>
      <h2 className="mt-5 font-display text-[17px] font-bold">You are signed in as {user}</h2>
      <p className="mt-1 mb-4 text-soft">This invitation makes another account, with a shop of its own.</p>
      <Button look="main" className="h-9 w-full" disabled={signOut.isPending} onClick={() => signOut.mutate()}>
        Sign out and use it
      </Button>
      <p className="mt-4">
        <Link to="/" className="font-semibold text-plum underline">
          Back to the shelf of {user}
        </Link>
      </p>
    </Doorway>
  );
}
