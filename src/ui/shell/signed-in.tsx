"use client";
import { useMutation, useQuery } from "@tanstack/react-query";
import { DropdownMenu } from "radix-ui";
import { toast } from "sonner";
import { api } from "../shared/api";

const ITEM = "cursor-pointer rounded px-2 py-1 outline-none data-highlighted:bg-base-300";

/** Who is signed in, and the way out; nothing where nobody has to be. */
export function SignedIn() {
  const { data } = useQuery({ queryKey: ["session"], queryFn: api.session, staleTime: Infinity });
  const signOut = useMutation({
    mutationFn: api.signOut,
    onSuccess: () => window.location.assign("/sign-in"),
    onError: (error) => toast.error(error.message),
  });
  if (!data?.name) return null;
  return (
    <DropdownMenu.Root>
      <DropdownMenu.Trigger className="btn btn-xs max-w-32 truncate" title="Signed in">
        {data.name}
      </DropdownMenu.Trigger>
      <DropdownMenu.Portal>
        <DropdownMenu.Content align="end" className="z-50 rounded-md border border-line bg-base-200 p-1">
          <DropdownMenu.Item className={ITEM} onSelect={() => signOut.mutate(false)}>
            Sign out
          </DropdownMenu.Item>
          <DropdownMenu.Item className={ITEM} onSelect={() => signOut.mutate(true)}>
            Sign out everywhere
          </DropdownMenu.Item>
        </DropdownMenu.Content>
      </DropdownMenu.Portal>
    </DropdownMenu.Root>
  );
}
