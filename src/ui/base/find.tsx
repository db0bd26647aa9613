"use client";

import { Command } from "cmdk";
import { useRouter } from "next/navigation";
import { Dialog } from "radix-ui";
import { useCallback, useEffect, useRef, useState } from "react";
import { GroupedChoices, useLed } from "@/ui/base/choices";
import { useAsked } from "@/ui/base/use-asked";
import type { Findable } from "@/contracts/answers/found";

const keyOf = ({ title, words, href }: Findable) => `${title} ${words} ${href}`;

const KEYS = [
  ["Ctrl K or ⌘ K", "find or do anything"],
  ["N", "on a job card, what waits for you; on a plan, the next decision that is open"],
  ["?", "these keys"],
  ["Tab, Shift Tab", "forwards and backwards through a page"],
  ["Enter", "open or press what has the focus"],
  ["Esc", "close what is open"],
] as const;

const PANEL =
  "fixed top-[14vh] left-1/2 z-30 max-h-[70vh] w-[min(620px,94vw)] -translate-x-1/2 overflow-auto border border-ink bg-sheet text-ink";

/** Search and commands in one box, on every screen; and the keys, on a question mark. */
export function Find() {
  const router = useRouter();
  const [open, setOpen] = useState<"find" | "keys">();
  const [query, setQuery] = useState("");
  // Enter may come before the answer does: then the first thing found is where it leads
  const hurry = useRef(false);
  const onFound = useCallback(
    ([first]: readonly Findable[]) => {
      if (!hurry.current || !first) return;
      hurry.current = false;
      setOpen(undefined);
      router.push(first.href);
    },
    [router],
  );
  const found = useAsked<Findable>("/api/find", query, open === "find", onFound);
  const { things } = found;
  const led = useLed(things, keyOf);
  useEffect(() => {
    const onKey = (event: KeyboardEvent) => {
      const typing =
        event.target instanceof HTMLElement &&
        (event.target.isContentEditable || ["INPUT", "TEXTAREA", "SELECT"].includes(event.target.tagName));
      if (event.key.toLowerCase() === "k" && (event.ctrlKey || event.metaKey)) {
        event.preventDefault();
        setOpen("find");
      } else if (event.key === "?" && !typing && !event.ctrlKey && !event.metaKey) setOpen("keys");
    };
    document.addEventListener("keydown", onKey);
    return () => document.removeEventListener("keydown", onKey);
  }, []);
  return (
    <Dialog.Root open={open !== undefined} onOpenChange={(wanted) => setOpen(wanted ? "find" : undefined)}>
      <Dialog.Trigger className="ml-auto flex w-72 items-center justify-between rounded-base border border-edge bg-paper px-2.5 py-1 text-sm text-faded max-md:w-40 max-sm:w-auto max-sm:flex-1">
        Find or do…{" "}
        <kbd className="rounded-base border border-edge bg-sheet px-1 key text-[11px] text-faded max-sm:hidden">
          Ctrl K
        </kbd>
      </Dialog.Trigger>
      <Dialog.Portal>
        <Dialog.Overlay className="fixed inset-0 z-20 bg-ink/25" />
        <Dialog.Content className={PANEL} aria-describedby={undefined}>
          <Dialog.Title className="sr-only">{open === "keys" ? "Keys" : "Find or do"}</Dialog.Title>
          {open === "keys" ? (
            <div className="p-5">
              <h2 className="mb-3">Keys</h2>
              <dl className="grid grid-cols-[12rem_1fr] gap-2 text-sm">
                {KEYS.map(([key, what]) => (
                  <div key={key} className="contents">
                    <dt className="key">{key}</dt>
                    <dd>{what}</dd>
                  </div>
                ))}
              </dl>
            </div>
          ) : (
            <Command label="Find or do" loop shouldFilter={false} {...led}>
              <Command.Input
                autoFocus
                value={query}
                onValueChange={(text) => {
                  setQuery(text);
                  hurry.current = false;
                }}
                onKeyDown={(event) => {
                  if (event.key !== "Enter" || found.query === query) return;
                  event.preventDefault();
                  hurry.current = true;
                }}
                placeholder="An aircraft, a job, a release, something to do"
                className="w-full border-b border-rule bg-sheet px-4 py-3 outline-none placeholder:text-faded"
              />
              <GroupedChoices
                things={things}
                empty="Nothing of that name. Try a tag, a release or a word like “back up”."
                keyOf={keyOf}
                onChoose={(thing) => {
                  setOpen(undefined);
                  router.push(thing.href);
                }}
              />
            </Command>
          )}
        </Dialog.Content>
      </Dialog.Portal>
    </Dialog.Root>
  );
}
