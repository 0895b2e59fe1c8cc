import { NavLink } from "react-router";

export type Room = "bench" | "sheets" | "press";
const ROOMS: Record<Room, string> = { bench: "Bench", sheets: "Sheets", press: "Press plan" };

export const roomOf = (name: string | undefined): Room => (name === "sheets" || name === "press" ? name : "bench");

/** From the design to its sheets to the goods. */
export function Rooms({ id }: { id: string }) {
  return (
    <nav aria-label="Rooms" className="flex gap-1">
      {(Object.entries(ROOMS) as [Room, string][]).map(([room, name]) => (
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
