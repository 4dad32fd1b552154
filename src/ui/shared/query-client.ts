import { MutationCache, QueryClient } from "@tanstack/react-query";
import { toast } from "sonner";

/**
 * What the page remembers of the server's answers: one for all views, and for what is done outside of any. A change
 * that failed is told, unless its `meta` says that it `showsItsError`.
 */
export const queryClient = new QueryClient({
  defaultOptions: { queries: { retry: 1, refetchOnWindowFocus: false } },
  mutationCache: new MutationCache({
    onError: ({ message }, _variables, _result, { meta }) => {
      if (!meta?.showsItsError) toast.error(message);
    },
  }),
});
