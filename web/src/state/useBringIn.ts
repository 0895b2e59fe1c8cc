import { useMutation, useQueryClient } from "@tanstack/react-query";
import { api, type Design, type Picture, sendPicture } from "../api/client";
import { say } from "../ui/notices";
import { withLine } from "../design/edits";
import { askFor } from "./ask";
import { chosenResults } from "./chosen";
import { useBench } from "./store";

interface What {
  file: File;
  /** the line to put it in; a new line is added where there is none */
  into?: string;
}

/** A line's first picture keeps the longer side it is to have; a later one takes its place as it is. */
function withPictureIn(design: Design, into: string, picture: Picture): Design {
  const line = design.recipe.find((one) => one.id === into);
  if (line?.kind === "texture") return withLine(design, into, (now) => (now.kind === "texture" ? { ...now, picture: picture.id } : now));
  if (line?.kind !== "art") return design;
  const by = line.picture ? line.by : picture.width > picture.height ? "wide" : "tall";
  return withLine(design, into, (now) => (now.kind === "art" ? { ...now, picture: picture.id, dropped: [], by } : now));
}

/** Bring in an SVG: upload it, and place it on the bench. A file that cannot be read changes nothing. */
export function useBringIn() {
  const client = useQueryClient();
  return useMutation({
    mutationFn: async ({ file, into }: What) => {
      const picture = await sendPicture(file);
      client.setQueryData(["picture", picture.id], picture);
      const { change, selectFresh } = useBench.getState();
      const withPicture = (now: Design) =>
        now.pictures.some((one) => one.id === picture.id)
          ? now
          : { ...now, pictures: [...now.pictures, { id: picture.id, name: picture.name, svg: null }] };
      if (into) {
        change((now) => withPictureIn(withPicture(now), into, picture));
      } else {
        const edited = await askFor(
          (design) => api.POST("/api/lines/add", { body: { design, kind: "art", picture: picture.id, chosen: chosenResults(), given: {} } }),
          withPicture,
        );
        selectFresh(edited.line ?? null);
      }
      return picture;
    },
    onSuccess: (picture) => {
      const parts = picture.parts.length === 1 ? "1 part" : `${picture.parts.length} parts`;
      say([`${picture.name} brought in: ${parts}.`, ...picture.notes].join(" "));
    },
  });
}
