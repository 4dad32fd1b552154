import type { FormatsHere } from "@/contract/formats";
import { FORMATS } from "@/formats/formats";
import { MOVIE_CONTAINERS } from "@/formats/movies";
import { hasFfmpeg } from "@/server/footage/movies/ffmpeg";
import { renderRoots } from "@/server/storage/named-roots";
import { respond } from "@/server/http/reply";

export const dynamic = "force-dynamic";

/** What is read and written here. */
export const GET = () =>
  respond<FormatsHere>(async () => {
    const movies = hasFfmpeg();
    const formats = [...FORMATS, ...(movies ? MOVIE_CONTAINERS : [])];
    return {
      movies,
      renderRoots: renderRoots().map(({ name }) => name!),
      formats: formats.map(({ name, extensions, read, write, compressions, note }) => ({
        ...{ name, extensions, read, write, compressions, note },
      })),
    };
  });
