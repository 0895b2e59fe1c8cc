import { type FormEvent, useState } from "react";
import { useSignIn } from "../api/queries";
import { Button } from "../ui/Button";

const FIELD = "h-9 w-full rounded-lg border border-line bg-card px-3 hover:border-plum";

/** The door of the shop. */
export function SignIn({ demo }: { demo: boolean }) {
  const [user, setUser] = useState("");
  const [password, setPassword] = useState("");
  const signIn = useSignIn();

  function submit(event: FormEvent) {
    event.preventDefault();
    signIn.mutate({ user, password });
  }

  return (
    <main className="grid min-h-screen place-items-center p-6">
      <div className="w-90 rounded-[10px] border border-line bg-card p-6">
        <h1 className="font-display text-[26px] font-bold tracking-tight text-plum">Perigram</h1>
        <p className="mt-1 text-soft">Cut-ready lettering, from words and pictures.</p>
        {demo && (
          <div className="mt-5 border-b border-line pb-5">
            <Button look="main" className="h-10 w-full" onClick={() => signIn.mutate("demo")}>
              Open the demo shop
            </Button>
            <p className="mt-2 text-soft">Saltmarsh Works: a made-up shop with designs to take apart.</p>
          </div>
        )}
        <form onSubmit={submit} className="mt-5 flex flex-col gap-3">
          <label className="flex flex-col gap-1 font-semibold">
            Name
            <input
              className={`${FIELD} font-normal`}
              value={user}
              onChange={(event) => setUser(event.target.value)}
              autoComplete="username"
              required
            />
          </label>
          <label className="flex flex-col gap-1 font-semibold">
            Password
            <input
              className={`${FIELD} font-normal`}
              type="password"
              value={password}
              onChange={(event) => setPassword(event.target.value)}
              autoComplete="current-password"
              required
            />
          </label>
          {signIn.isError && (
            <p role="alert" className="text-brick">
              {signIn.error.message}
            </p>
          )}
          <Button type="submit" look={demo ? "plain" : "main"} className="h-9" disabled={signIn.isPending}>
            Sign in
          </Button>
        </form>
      </div>
    </main>
  );
}
