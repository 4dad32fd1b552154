/** Every operation of the server's API, for its description at /api; a test holds it against the routes there are. */
import { z } from "zod";
import { ownEncodingSchema } from "../core/colour/own-encoding";
import { changeProfileBody, keepProfileBody, readProfileQuery, writeProfileQuery } from "./cabinet";
import { readCorrectionsBody, writeCorrectionsBody } from "./corrections";
import { keepDeliveryBody, queueDeliveryBody } from "./deliveries";
import { exportTableBody } from "./export";
import { renderChange, workerChange } from "./farm";
import { frameQuery, plateQuery, stillLightQuery } from "./frames";
import { decisionsBody, folderBody, offersBody, takeFolderBody } from "./intake";
import { changeLookBody, keepLookBody, putLooksBody, saveLookBody } from "./looks";
import { signInBody, signOutBody } from "./people";
import { changeProductionBody, importQuery, makeProductionBody } from "./productions";
import { MOVIE_TYPES, renderBody } from "./renders";
import { changeShotsBody } from "./shots";
import { keepStillBody, noteStillBody, stillPictureQuery } from "./stills";
import { tableBody } from "./tables";
import { changeVersionBody, keepVersionBody } from "./versions";

export interface Operation {
  method: "GET" | "POST" | "PUT" | "PATCH" | "DELETE";
  /** With its parameters as {name}. */
  path: string;
  summary: string;
  query?: z.ZodObject;
  body?: z.ZodType;
  /** Where what is sent or answered is no JSON: its media type. */
  sends?: string;
  answers?: string;
}

const BYTES = "application/octet-stream";
const pieceQuery = z.object({
  size: z.number().int().describe("of the whole file, bytes"),
  at: z.number().int().optional().describe("where what is sent begins; 0 if left out"),
  until: z.number().int().optional().describe("where it ends; the file’s length if left out"),
});
const thumbnailQuery = z.object({
  frame: z.number().int().optional(),
  width: z.enum(["400", "800"]).optional().describe("px, about"),
  encoding: z.string().optional(),
});
const movieQuery = z.object({ kind: z.enum(Object.keys(MOVIE_TYPES) as [string]) });
const chartQuery = z.object({ file: z.string(), encoding: z.string() });

const get = (path: string, summary: string, more: Partial<Operation> = {}): Operation => ({
  ...{ method: "GET", path, summary },
  ...more,
});
const remove = (path: string, summary: string): Operation => ({ method: "DELETE", path, summary });
const write = (
  method: "POST" | "PUT" | "PATCH" | "DELETE",
  path: string,
  summary: string,
  body?: z.ZodType,
  more: Partial<Operation> = {},
): Operation => ({ ...{ method, path, summary, body }, ...more });

export const OPERATIONS: Operation[] = [
  get("/api", "This description"),
  get("/api/formats", "What is read and written here"),

  get("/api/shots", "All shots"),
  write("PATCH", "/api/shots", "Changes shots together, all or none", changeShotsBody),
  get("/api/shots/{id}", "A shot with its versions"),
  remove("/api/shots/{id}", "Removes a shot with its look and versions"),
  get("/api/shots/{id}/uses", "What hangs on a shot"),
  get("/api/shots/{id}/look", "The look a shot wears"),
  write(
    "PUT",
    "/api/shots/{id}/look",
    "Puts a look on a shot, in place of the revision it was made from",
    saveLookBody,
  ),
  write("POST", "/api/shots/{id}/versions", "Keeps the look as the shot’s next version", keepVersionBody),
  get("/api/shots/{id}/versions/{version}", "A version with its look"),
  write("PATCH", "/api/shots/{id}/versions/{version}", "Changes a version’s name or note", changeVersionBody),
  remove("/api/shots/{id}/versions/{version}", "Removes a version"),
  get("/api/shots/{id}/lens-data", "What the footage’s own headers say of the lens"),
  get("/api/shots/{id}/frames/{frame}", "A frame in working light; its size and samples in x- headers", {
    ...{ query: frameQuery, answers: BYTES },
  }),
  get("/api/shots/{id}/plate", "A frame of a shot that is laid over another", { query: plateQuery, answers: BYTES }),
  get("/api/shots/{id}/thumbnail", "A small picture of a frame", { query: thumbnailQuery, answers: "image/jpeg" }),
  write(
    "POST",
    "/api/shots/{id}/table",
    "The part of a look that depends on no neighbour, as a table",
    exportTableBody,
  ),

  write("POST", "/api/intake/{batch}/offer", "What is here already of files about to be sent", offersBody),
  write("PUT", "/api/intake/{batch}/files/{path}", "A file, or a piece of it", undefined, {
    ...{ query: pieceQuery, sends: BYTES },
  }),
  get("/api/intake/{batch}", "What was found in the files that were sent"),
  write("POST", "/api/intake/{batch}", "Takes in what is wanted of them", decisionsBody),
  remove("/api/intake/{batch}", "Gives a batch up"),
  get("/api/intake-folder", "Folders that footage may be taken from where it lies"),
  write("POST", "/api/intake-folder", "What is found in such a folder", folderBody),
  write("PUT", "/api/intake-folder", "Takes in what is wanted of it", takeFolderBody),
  remove("/api/footage/{id}", "Removes footage that no shot uses"),

  get("/api/looks", "The library of looks"),
  write("POST", "/api/looks", "Keeps a look in the library", keepLookBody),
  get("/api/looks/{id}", "A look of the library"),
  write("PUT", "/api/looks/{id}", "Changes a look of one’s own", changeLookBody),
  remove("/api/looks/{id}", "Takes a look of one’s own out of the library"),
  write("PUT", "/api/looks/shots", "Puts looks on several shots, all or none", putLooksBody),

  get("/api/deliveries", "The deliveries that are kept"),
  write("PUT", "/api/deliveries", "Keeps a delivery under its name", keepDeliveryBody),
  remove("/api/deliveries/{id}", "Removes a kept delivery"),
  write("POST", "/api/deliveries/queue", "Queues shots and versions as a delivery says", queueDeliveryBody),
  get("/api/session", "Who is signed in"),
  write("POST", "/api/session", "Signs in: begins a session in a cookie", signInBody),
  write("DELETE", "/api/session", "Signs out, here or everywhere", signOutBody),
  get("/api/farm", "Who makes frames, and of what"),
  write("PATCH", "/api/farm/workers/{id}", "No more work for a worker, or work again", workerChange),
  get("/api/renders", "All renders"),
  write("POST", "/api/renders", "Queues a render", renderBody),
  write("PATCH", "/api/renders/{id}", "Pauses a render, goes on with it, or says when it is its turn", renderChange),
  remove("/api/renders/{id}", "Removes a render with its files"),
  write("POST", "/api/renders/{id}/cancel", "Cancels a render"),
  write("POST", "/api/renders/{id}/again", "Makes what failed or was cancelled; finished frames stay"),
  get("/api/renders/{id}/manifest", "The files of a render with their lengths and hashes"),
  get("/api/renders/{id}/frames", "Which frames of a render are there"),
  get("/api/renders/{id}/frames/{frame}", "A rendered frame as a display shows it, RGBA", { answers: BYTES }),
  get("/api/renders/{id}/frames/{frame}/thumbnail", "A small picture of a rendered frame", { answers: "image/jpeg" }),
  get("/api/renders/{id}/movie", "A movie of a render", { query: movieQuery, answers: "video/*" }),
  write("PUT", "/api/renders/{id}/movie", "Keeps a movie that a browser made beside a render", undefined, {
    ...{ query: movieQuery, sends: "video/*" },
  }),

  get("/api/stills", "All stills"),
  write("POST", "/api/stills", "Keeps a still of a frame", keepStillBody),
  get("/api/stills/{id}", "A still with its look"),
  write("PATCH", "/api/stills/{id}", "Changes a still’s note", noteStillBody),
  remove("/api/stills/{id}", "Removes a still"),
  get("/api/stills/{id}/picture", "A still as a picture", { query: stillPictureQuery, answers: "image/*" }),
  get("/api/stills/{id}/light", "A still’s light", { query: stillLightQuery, answers: BYTES }),

  get("/api/profiles", "Lenses and filters as looks name them"),
  get("/api/cabinet", "The Cabinet: every profile, and where it comes from"),
  write("POST", "/api/cabinet", "Keeps a profile of one’s own", keepProfileBody),
  write("PUT", "/api/cabinet/{id}", "Changes a profile of one’s own", changeProfileBody),
  remove("/api/cabinet/{id}", "Removes a profile that nothing uses"),
  get("/api/cabinet/{id}/file", "A profile as a file", { query: writeProfileQuery, answers: BYTES }),
  write("POST", "/api/cabinet/files", "The profile that a file holds; nothing is kept", undefined, {
    ...{ query: readProfileQuery, sends: BYTES },
  }),
  get("/api/charts/{batch}", "Light of a frame that was sent to be measured", { query: chartQuery, answers: BYTES }),
  get("/api/bench-day", "Charts that can be computed to be measured"),
  get("/api/bench-day/{id}", "What the frames of such charts are"),
  write("POST", "/api/bench-day/{id}", "Computes them"),

  get("/api/encodings", "Encodings of one’s own"),
  write("PUT", "/api/encodings", "Keeps an encoding of one’s own", ownEncodingSchema),
  get("/api/encodings/{id}", "An encoding of one’s own"),
  remove("/api/encodings/{id}", "Removes an encoding that no shot uses"),
  get("/api/encodings/{id}/ramp", "Working light of grey code values"),
  get("/api/tables", "Tables that looks are seen through"),
  write("PUT", "/api/tables", "Keeps a table", tableBody),
  get("/api/tables/{id}", "A table’s steps"),
  remove("/api/tables/{id}", "Removes a table that no look uses"),
  write("POST", "/api/corrections", "Reads ASC CDL", readCorrectionsBody),
  write("PUT", "/api/corrections", "Writes ASC CDL", writeCorrectionsBody),
  write("POST", "/api/demo", "Opens the demo production"),

  get("/api/productions", "Productions"),
  write("POST", "/api/productions", "Begins a production", makeProductionBody),
  write(
    "PATCH",
    "/api/productions/{id}",
    "Names a production anew, puts it away or takes it up again",
    changeProductionBody,
  ),
  remove("/api/productions/{id}", "Removes a production with its shots; renders of it stay"),
  get("/api/productions/{id}/uses", "What goes with a production that is removed, and what keeps it"),
  get("/api/productions/{id}/file", "A production as a zip, its footage by hash", { answers: "application/zip" }),
  write("POST", "/api/productions/files", "Brings in a production that comes from elsewhere", undefined, {
    ...{ query: importQuery, sends: "application/zip" },
  }),
];
