import { useMutation, useQueryClient } from "@tanstack/react-query";
import { api, type Design, type Picture, sendPicture } from "../api/client";
import { say } from "../ui/notices";
import { withLine } from "../design/edits";
import { refTo } from "../design/refs";
import { askFor } from "./ask";
import { useBench } from "./store";

interface What {
  file: File;
  /** the line to put it in; a new line is added where there is none */
  into?: string;
}

/** A line's first picture comes at its own size and names the ply it is cut in; a later one takes its place. */
function withPictureIn(design: Design, into: string, picture: Picture): Design {
  const line = design.recipe.find((one) => one.id === into);
  if (line?.kind === "texture") return withLine(design, into, (now) => (now.kind === "texture" ? { ...now, picture: picture.id } : now));
  if (line?.kind !== "art") return design;
  const first = line.picture === "";
  const named = first
    ? design.plies.map((ply) => (ply.results.join() === refTo(into, "art") ? { ...ply, name: picture.name } : ply))
    : design.plies;
  return withLine({ ...design, plies: named }, into, (now) =>
    now.kind === "art"
      ? { ...now, picture: picture.id, dropped: [], ...(first ? { size: Math.round(picture.height * 10) / 10, by: "tall" } : {}) }
      : now,
  );
}

/** Bring in an SVG: upload it, and place it on the bench. A file that cannot be read changes nothing. */
export function useBringIn() {
  const client = useQueryClient();
  return useMutation({
    mutationFn: async ({ file, into }: What) => {
      const picture = await sendPicture(file);
      client.setQueryData(["picture", picture.id], picture);
      const { change, select } = useBench.getState();
      const withPicture = (now: Design) =>
        now.pictures.some((one) => one.id === picture.id)
          ? now
          : { ...now, pictures: [...now.pictures, { id: picture.id, name: picture.name, svg: null }] };
      if (into) {
        change((now) => withPictureIn(withPicture(now), into, picture));
      } else {
        const edited = await askFor(
          (design) => api.POST("/api/lines/add", { body: { design, kind: "art", picture: picture.id, given: {} } }),
          withPicture,
        );
        select(edited.line ?? null);
      }
      return picture;
    },
    onSuccess: (picture) => {
      const parts = picture.parts.length === 1 ? "1 part" : `${picture.parts.length} parts`;
      say([`${picture.name} brought in: ${parts}.`, ...picture.notes].join(" "));
    },
  });
}
