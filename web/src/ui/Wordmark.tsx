import { Link } from "react-router";

export function Wordmark() {
  return (
    <Link to="/" className="rounded font-display text-[20px] font-bold tracking-tight text-plum">
      Perigram
    </Link>
  );
}
