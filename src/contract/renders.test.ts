import { expect, test } from "vitest";
import { FORMATS } from "../formats/formats";
import { RENDER_FORMATS } from "./renders";

test.each(Object.entries(RENDER_FORMATS))("what is offered as “%s” can be written", (_, ordered) => {
  const { format, depth, compression } = ordered as { format: string; depth: string; compression?: string };
  const written = FORMATS.find(({ extensions }) => extensions.includes(`.${format}`))!;
  expect(written.write).toContain(depth);
  if (compression) expect(written.compressions).toContain(compression);
});
