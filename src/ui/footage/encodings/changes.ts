"use client";
import { useMutation, useQueryClient } from "@tanstack/react-query";
import { toast } from "sonner";
import { type LogEncoding, type OwnEncoding, ownEncodingSchema } from "@/core/colour/own-encoding";
import { api } from "../../shared/api";
import { idOf } from "./draft";

/** Everything that shows what encodings there are, or what one makes of code values. */
const DEPENDENT_QUERIES = ["encodings", "ramp", "shots"];

/** An encoding from a file: JSON of our own, or a table as the input transform. Throws what is wrong with it. */
async function encodingIn(file: File): Promise<OwnEncoding> {
  const text = await file.text();
  if (/\.(cube|clf)$/i.test(file.name)) {
    const name = file.name.replace(/\.[^.]+$/, "");
    const table = { kind: "table", id: idOf(name), name, file: file.name, text, into: "linear-ap1" } as const;
    return { format: "pale-halo-encoding", version: 1, ...table };
  }
  let value: unknown;
  try {
    value = JSON.parse(text);
  } catch {
    throw new Error(`${file.name}: is not JSON, .cube or .clf`);
  }
  const read = ownEncodingSchema.safeParse(value);
  if (read.success) return read.data as OwnEncoding;
  const { path, message } = read.error.issues[0]!;
  throw new Error(`${file.name}: ${path.join(".") || "format"}: ${message}`);
}

/** Storing, taking in and removing encodings of one's own. `onLog`: a log curve was taken in. */
export function useEncodingChanges(onLog: (encoding: LogEncoding) => void) {
  const client = useQueryClient();
  const done = (said: string) => {
    toast(said);
    for (const name of DEPENDENT_QUERIES) void client.invalidateQueries({ queryKey: [name] });
  };
  const store = useMutation({
    mutationFn: (encoding: OwnEncoding) => api.keepEncoding(encoding),
    onSuccess: (_, { name }) => done(`“${name}” is kept`),
  });
  const takeIn = useMutation({
    mutationFn: async (file: File) => {
      const encoding = await encodingIn(file);
      if (encoding.kind === "log") onLog(encoding);
      await api.keepEncoding(encoding);
      return encoding;
    },
    onSuccess: ({ kind, name }) =>
      done(kind === "table" ? `“${name}” is kept; its values are taken as working light` : `“${name}” is kept`),
  });
  const remove = useMutation({
    mutationFn: ({ id }: { id: string; name: string }) => api.removeEncoding(id),
    onSuccess: (_, { name }) => done(`“${name}” is gone`),
  });
  return { store, takeIn, remove };
}
