import { Navigate, Route, Routes } from "react-router";
import { useSession } from "./api/queries";
import { BenchPage } from "./bench/BenchPage";
import { InvitedInside } from "./door/InvitedInside";
import { SignedOut } from "./door/SignedOut";
import { SignIn } from "./door/SignIn";
import { Shelf } from "./shelf/Shelf";
import { Guard } from "./ui/Guard";
import { Notices } from "./ui/notices";

export function App() {
  const session = useSession();
  if (session.isPending) return <p className="p-8 text-soft">Opening the shop…</p>;
  if (session.isError) {
    return (
      <p role="alert" className="p-8">
        {session.error.message}
      </p>
    );
  }
  return (
    <>
      <Guard>
        {session.data.user ? (
        <Routes>
          <Route path="/" element={<Shelf user={session.data.user} />} />
          <Route path="/designs/:id/:room?" element={<BenchPage user={session.data.user} />} />
          <Route path="/join/:invitation" element={<InvitedInside user={session.data.user} />} />
          <Route path="*" element={<Navigate to="/" replace />} />
        </Routes>
      ) : (
        <SignIn session={session.data} />
        )}
      </Guard>
      <SignedOut />
      <Notices />
    </>
  );
}
