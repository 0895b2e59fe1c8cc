import { useMutation, useQueryClient } from "@tanstack/react-query";
import { api, data, type Edited, sendPicture } from "../api/client";
import { say } from "../ui/notices";
import { useBench, withValue } from "./store";

interface What {
  file: File;
  /** the line to put it in; a new line is added where there is none */
  into?: string;
}

/** Bring in an SVG: upload it, and place it on the bench. A file that cannot be read changes nothing. */
export function useBringIn() {
  const client = useQueryClient();
  return useMutation({
    mutationFn: async ({ file, into }: What) => {
      const picture = await sendPicture(file);
      client.setQueryData(["picture", picture.id], picture);
      const { change, select } = useBench.getState();
      const withPicture = () => {
        const now = useBench.getState().design;
        return now.pictures.some((one) => one.id === picture.id)
          ? now
          : { ...now, pictures: [...now.pictures, { id: picture.id, name: picture.name, svg: null }] };
      };
      if (into) {
        change(() => withValue(withValue(withPicture(), into, "picture", picture.id), into, "dropped", []));
      } else {
        const edited = await data<Edited>(
          api.POST("/api/lines/add", { body: { design: withPicture(), kind: "art", picture: picture.id } }),
        );
        change(() => edited.design);
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
