import { type FormEvent, useState } from "react";
import { Link, Route, Routes, useNavigate, useParams } from "react-router";
import type { Session } from "../api/client";
import { useMakeAccount, useSignIn } from "../api/queries";
import { Button } from "../ui/Button";
import { TextField } from "../ui/TextField";
import { Doorway } from "./Doorway";
import { SignInForm } from "./SignInForm";

/** The door of the shop: for those who have an account, and for those who are invited to one. */
export function SignIn({ session }: { session: Session }) {
  return (
    <Doorway>
      <Routes>
        <Route path="/join/:invitation?" element={<NewAccount signUp={session.sign_up} />} />
        <Route path="*" element={<Door session={session} />} />
      </Routes>
    </Doorway>
  );
}

function Door({ session: { demo, sign_up } }: { session: Session }) {
  const signIn = useSignIn();
  return (
    <>
      {demo && (
        <div className="mt-5 border-b border-line pb-5">
          <Button look="main" className="h-10 w-full" onClick={() => signIn.mutate("demo")}>
            Open the demo shop
          </Button>
          <p className="mt-2 text-soft">Saltmarsh Works: a made-up shop with designs to take apart.</p>
        </div>
      )}
      <div className="mt-5">
        <SignInForm look={demo ? "plain" : "main"} />
      </div>
      {sign_up === "open" && (
        <p className="mt-4">
          New here?{" "}
          <Link to="/join" className="font-semibold text-plum underline">
            Make an account
          </Link>
        </p>
      )}
    </>
  );
}

function NewAccount({ signUp }: { signUp: Session["sign_up"] }) {
  const { invitation = "" } = useParams();
  const [user, setUser] = useState("");
  const [password, setPassword] = useState("");
  const navigate = useNavigate();
  const make = useMakeAccount(() => void navigate("/", { replace: true }));
  if (signUp === "closed" || (signUp === "invitation" && !invitation)) {
    return <p className="mt-5">Accounts are made here by invitation. Ask whoever runs this server for one.</p>;
  }

  function submit(event: FormEvent) {
    event.preventDefault();
    make.mutate({ user, password, invitation });
  }

  return (
    <form onSubmit={submit} className="mt-5 flex flex-col gap-3">
      <h2 className="font-display text-[17px] font-bold">Your own shop</h2>
      <TextField label="Name" value={user} onText={setUser} autoComplete="username" />
      <TextField label="Password" value={password} onText={setPassword} type="password" autoComplete="new-password" />
      {make.isError && (
        <p role="alert" className="text-brick">
          {make.error.message}
        </p>
      )}
      <Button type="submit" look="main" className="h-9" disabled={make.isPending}>
        Make the account
      </Button>
      <p>
        <Link to="/" className="font-semibold text-plum underline">
          I have one already
        </Link>
      </p>
    </form>
  );
}
