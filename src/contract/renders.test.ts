import { expect, test } from "vitest";
import { describedFormat } from "../formats/formats";
import { codingFor, containerOf, MOVIE_CONTAINERS } from "../formats/movies";
import { isMovieName } from "../core/image/movies";
import { MOVIE_TYPES, RENDER_FORMATS, RENDER_MOVIES } from "./renders";

interface Ordered {
  format: string;
  depth: string;
  compression?: string;
}

test.each(Object.entries({ ...RENDER_FORMATS, ...RENDER_MOVIES }))(
  "what is offered as “%s” can be written",
  (_, ordered) => {
    const { format, depth, compression } = ordered as Ordered;
    const written = describedFormat(`x.${format}`)!;
    const depths = containerOf(`x.${format}`) ? codingFor(`x.${format}`, compression).depths : written.write;
    expect(depths).toContain(depth);
    if (compression) expect(written.compressions).toContain(compression);
  },
);

test("every movie that is offered has a media type, and every container is known for a movie by its name", () => {
  for (const { format } of Object.values(RENDER_MOVIES)) expect(MOVIE_TYPES).toHaveProperty(format);
  for (const { extensions } of MOVIE_CONTAINERS)
    for (const extension of extensions) expect(isMovieName(`a${extension}`)).toBe(true);
});
