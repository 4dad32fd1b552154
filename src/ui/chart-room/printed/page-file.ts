/** The file of a page: read as it is dropped, and kept in this browser so that a reload has it again. */
import { del, get, set } from "idb-keyval";
import { useEffect, useState } from "react";
import { toast } from "sonner";
import { readPage } from "./page";
import { usePrinted } from "./session";

const KEY = "printed-page";

interface KeptPage {
  name: string;
  file: Blob;
  number: number;
}

/** Reads pages of files, and keeps the one that is worked on. */
export function usePageFile() {
  const [isReading, setReading] = useState(false);
  const read = async ({ name, file, number }: KeptPage) => {
    setReading(true);
    try {
      const page = await readPage(name, file, number);
      usePrinted.getState().setPage(page);
      return page;
    } finally {
      setReading(false);
    }
  };
  const open = (page: KeptPage) => {
    read(page)
      // A browser that has no room for the page works on it all the same.
      .then(({ number }) => set(KEY, { ...page, number }).catch(() => {}))
      .catch((error: Error) => toast.error(error.message));
  };
  useEffect(() => {
    void (async () => {
      await usePrinted.persist.rehydrate();
      const { page, pageName } = usePrinted.getState();
      if (page || !pageName) return;
      const kept = await get<KeptPage>(KEY).catch(() => undefined);
      if (kept?.name === pageName) await read(kept).catch(() => {});
    })();
  }, []);
  return {
    isReading,
    take: (file: File | undefined) => file && open({ name: file.name, file, number: 1 }),
    turnTo: async (number: number) => {
      const kept = await get<KeptPage>(KEY).catch(() => undefined);
      if (kept) open({ ...kept, number });
    },
    clear: () => {
      usePrinted.getState().clear();
      void del(KEY).catch(() => {});
    },
  };
}
