import { show } from "../design/face";

show("shape", {
  name: (line) => line.figure,
  extent: (line) => [line.width, line.height],
  stretched: (line, sx, sy, rounded) => ({
    ...line,
    width: rounded(line.width * sx, 0.5),
    height: rounded(line.height * sy, 0.5),
  }),
});
