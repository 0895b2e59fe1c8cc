import { type FormEvent, useState } from "react";
import { useSignIn } from "../api/queries";
import { Button } from "../ui/Button";
import { TextField } from "../ui/TextField";

/** Name and password; the name stands already where it is known who is to come back. */
export function SignInForm({ look = "main", user: known }: { look?: "main" | "plain"; user?: string }) {
  const [user, setUser] = useState(known ?? "");
  const [password, setPassword] = useState("");
  const signIn = useSignIn();

  function submit(event: FormEvent) {
    event.preventDefault();
    signIn.mutate({ user, password });
  }

  return (
    <form onSubmit={submit} className="flex flex-col gap-3">
      <TextField label="Name" value={user} onText={setUser} autoComplete="username" readOnly={known !== undefined} />
      <TextField label="Password" value={password} onText={setPassword} type="password" autoComplete="current-password" />
      {signIn.isError && (
        <p role="alert" className="text-brick">
          {signIn.error.message}
        </p>
      )}
      <Button type="submit" look={look} className="h-9" disabled={signIn.isPending}>
        Sign in
      </Button>
    </form>
  );
}
