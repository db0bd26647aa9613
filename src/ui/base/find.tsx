"use client";

import { Command } from "cmdk";
import { useRouter } from "next/navigation";
import { Dialog } from "radix-ui";
import { useCallback, useEffect, useRef, useState } from "react";

interface Findable {
  readonly group: string;
  readonly title: string;
  readonly words: string;
  readonly href: string;
}

const KEYS = [
  ["Ctrl K or ⌘ K", "find or do anything"],
  ["?", "these keys"],
  ["Tab, Shift Tab", "forwards and backwards through a page"],
  ["Enter", "open or press what has the focus"],
  ["Esc", "close what is open"],
] as const;

const PANEL =
  "fixed top-[14vh] left-1/2 z-30 max-h-[70vh] w-[min(620px,94vw)] -translate-x-1/2 overflow-auto border border-ink bg-sheet text-ink";

const QUIET_MS = 120;

/** What fits the letters typed so far, asked of the server when the typing pauses. */
function useFound(
  query: string,
  wanted: boolean,
  onFound: (things: readonly Findable[]) => void,
): { readonly query: string; readonly things: readonly Findable[] } {
  const [found, setFound] = useState<{ readonly query: string; readonly things: readonly Findable[] }>({
    query: "",
    things: [],
  });
  useEffect(() => {
    if (!wanted) return undefined;
    const stop = new AbortController();
    const timer = setTimeout(() => {
      void fetch(`/api/find?q=${encodeURIComponent(query.slice(0, 80))}`, { signal: stop.signal })
        .then((response) => (response.ok ? (response.json() as Promise<{ things: Findable[] }>) : { things: [] }))
        .then(({ things }) => {
          setFound({ query, things });
          onFound(things);
        })
        // a newer question has taken its place, or the server is away: what was found stays
        .catch(() => undefined);
    }, QUIET_MS);
    return () => {
      stop.abort();
      clearTimeout(timer);
    };
  }, [query, wanted, onFound]);
  return found;
}

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
  const found = useFound(query, open === "find", onFound);
  const { things } = found;
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
  const groups = [...new Set(things.map((thing) => thing.group))];
  return (
    <Dialog.Root open={open !== undefined} onOpenChange={(wanted) => setOpen(wanted ? "find" : undefined)}>
      <Dialog.Trigger className="ml-auto flex w-72 items-center justify-between rounded-base border border-edge bg-paper px-2.5 py-1 text-sm text-faded max-md:w-40">
        Find or do…{" "}
        <kbd className="rounded-base border border-edge bg-sheet px-1 key text-[11px] text-faded">Ctrl K</kbd>
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
            <Command label="Find or do" loop shouldFilter={false}>
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
              <Command.List className="p-2">
                <Command.Empty className="px-3 py-4 text-sm text-faded">
                  Nothing of that name. Try a tag, a release or a word like “back up”.
                </Command.Empty>
                {groups.map((group) => (
                  <Command.Group
                    key={group}
                    heading={group}
                    className="text-[13px] text-faded **:[[cmdk-group-heading]]:px-3 **:[[cmdk-group-heading]]:py-1.5"
                  >
                    {things
                      .filter((thing) => thing.group === group)
                      .map((thing) => (
                        <Command.Item
                          key={thing.href + thing.title}
                          value={`${thing.title} ${thing.words} ${thing.href}`}
                          className="cursor-pointer rounded-base px-3 py-2 text-[15px] text-ink data-[selected=true]:bg-water-wash"
                          onSelect={() => {
                            setOpen(undefined);
                            router.push(thing.href);
                          }}
                        >
                          {thing.title}
                        </Command.Item>
                      ))}
                  </Command.Group>
                ))}
              </Command.List>
            </Command>
          )}
        </Dialog.Content>
      </Dialog.Portal>
    </Dialog.Root>
  );
}
