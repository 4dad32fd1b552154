import { QueryClient } from "@tanstack/react-query";

/** What the page remembers of the server's answers: one for all views, and for what is done outside of any. */
export const queryClient = new QueryClient({
  defaultOptions: { queries: { retry: 1, refetchOnWindowFocus: false } },
});
