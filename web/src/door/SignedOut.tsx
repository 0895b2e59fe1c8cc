import { Dialog } from "radix-ui";
import { useDoor } from "../api/door";
import { useSession, useSignIn } from "../api/queries";
import { Button } from "../ui/Button";
import { SignInForm } from "./SignInForm";

/** Asks for the password where the work is, so that nothing on the bench is lost. */
export function SignedOut() {
  const out = useDoor((door) => door.out);
  const session = useSession().data;
  const signIn = useSignIn();
  if (!session?.user) return null;
  return (
    <Dialog.Root open={out}>
      <Dialog.Portal>
        <Dialog.Overlay className="fixed inset-0 z-40 bg-ink/40" />
        <Dialog.Content
          className="fixed top-1/2 left-1/2 z-50 w-90 -translate-1/2 rounded-[10px] border border-line bg-card p-6"
          onEscapeKeyDown={(event) => event.preventDefault()}
        >
          <Dialog.Title className="font-display text-[17px] font-bold">You are signed out</Dialog.Title>
          <Dialog.Description className="mt-1 mb-4 text-soft">
            Sign in to go on. What is on the bench is kept, and saved as soon as you are back.
          </Dialog.Description>
          {session.demo && (
            <Button look="main" className="mb-4 h-9 w-full" onClick={() => signIn.mutate("demo")}>
              Open the demo shop again
            </Button>
          )}
          <SignInForm user={session.user} look={session.demo ? "plain" : "main"} />
        </Dialog.Content>
      </Dialog.Portal>
    </Dialog.Root>
  );
}
