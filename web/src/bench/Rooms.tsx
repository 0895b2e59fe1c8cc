import { NavLink } from "react-router";

const ROOMS = { bench: "Bench", sheets: "Sheets", cut: "Cut", press: "Press plan" };
export type Room = keyof typeof ROOMS;

export const roomOf = (name: string | undefined): Room => (name !== undefined && name in ROOMS ? (name as Room) : "bench");

/** From the design to its sheets to the goods. */
export function Rooms({ id }: { id: string }) {
  return (
    <nav aria-label="Rooms" className="flex gap-1">
      {Object.entries(ROOMS).map(([room, name]) => (
        <NavLink
          key={room}
          end
          to={room === "bench" ? `/designs/${id}` : `/designs/${id}/${room}`}
          className="rounded-lg px-2.5 py-1.5 font-semibold whitespace-nowrap text-soft hover:bg-plum-soft aria-[current=page]:bg-plum-soft aria-[current=page]:text-plum"
        >
          {name}
        </NavLink>
      ))}
    </nav>
  );
}
