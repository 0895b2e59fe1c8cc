import { UserRound } from "lucide-react";
import { type FormEvent, useState } from "react";
import { useChangePassword, useSignOut } from "../api/queries";
import { Button } from "../ui/Button";
import { IconButton } from "../ui/IconButton";
import { say } from "../ui/notices";
import { Pop } from "../ui/Pop";
import { TextField } from "../ui/TextField";

/** Who is at work here: another password, and the way out. */
export function AccountPanel({ user }: { user: string }) {
  const [open, setOpen] = useState(false);
  const [old, setOld] = useState("");
  const [next, setNext] = useState("");
  const signOut = useSignOut();
  const change = useChangePassword();

  function submit(event: FormEvent) {
    event.preventDefault();
    change.mutate(
      { old, new: next },
      {
        onSuccess: () => {
          setOpen(false);
          setOld("");
          setNext("");
          say("Password changed. Wherever else you were signed in, you are signed out now.");
        },
      },
    );
  }

  return (
    <Pop
      open={open}
      onOpenChange={setOpen}
      label={`Account of ${user}`}
      trigger={
        <IconButton label={`Account of ${user}`}>
          <UserRound size={16} />
        </IconButton>
      }
    >
      <div className="flex flex-col gap-3">
        <p className="font-display text-[14px] font-bold">{user}</p>
        <form onSubmit={submit} className="flex flex-col gap-3 border-y border-line py-3">
          <TextField label="Password so far" value={old} onText={setOld} type="password" autoComplete="current-password" />
          <TextField label="New password" value={next} onText={setNext} type="password" autoComplete="new-password" />
          {change.isError && (
            <p role="alert" className="text-brick">
              {change.error.message}
            </p>
          )}
          <Button type="submit" disabled={change.isPending}>
            Change the password
          </Button>
        </form>
        <Button onClick={() => signOut.mutate()}>Sign out</Button>
      </div>
    </Pop>
  );
}
