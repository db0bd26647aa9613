"use client";

import { Command } from "cmdk";
import { ChevronDown } from "lucide-react";
import { Popover } from "radix-ui";
import { useId, useState, type ReactNode } from "react";
import { GroupedChoices, useLed } from "@/ui/base/choices";
import { useAsked } from "@/ui/base/use-asked";
import { useUrlParam } from "@/ui/base/use-url-param";
import type { SideChoice } from "@/contracts/answers/found";

const keyOf = (choice: SideChoice) => `${choice.title} ${choice.ref}`;

/**
 * Chooses what stands on one side of a comparison: opens to a search over aircraft, standards, releases and all backups.
 * The choice stands in the URL.
 */
export function SidePicker({
  name,
  label,
  title,
  children,
}: {
  readonly name: string;
  readonly label: string;
  /** What stands there now; empty: nothing yet. */
  readonly title: string;
  readonly children?: ReactNode;
}) {
  const { shown, pending, choose } = useUrlParam(name, title);
  const [open, setOpen] = useState(false);
  const [query, setQuery] = useState("");
  const { things } = useAsked<SideChoice>("/api/sides", query, open);
  const led = useLed(things, keyOf);
  const id = useId();
  return (
    <div className="min-w-0 px-4 py-3">
      <div className="flex flex-wrap items-baseline gap-2 text-sm">
        <span id={id} className="font-semibold">
          {label}
        </span>
        <Popover.Root open={open} onOpenChange={setOpen}>
          <Popover.Trigger
            aria-labelledby={`${id} ${id}-now`}
            aria-busy={pending}
            className="inline-flex min-h-8 max-w-full min-w-0 items-center gap-2 rounded-base border border-edge bg-sheet px-2.5 text-left"
          >
            <span id={`${id}-now`} className={shown === "" ? "text-faded" : ""}>
              {shown === "" ? "Choose…" : shown}
            </span>
            <ChevronDown className="size-4 shrink-0 text-faded" aria-hidden="true" />
          </Popover.Trigger>
          <Popover.Portal>
            <Popover.Content
              align="start"
              sideOffset={4}
              collisionPadding={12}
              className="z-30 max-h-(--radix-popover-content-available-height) w-[min(440px,92vw)] overflow-auto border border-ink bg-sheet text-ink"
              aria-label={`Choose the side: ${label}`}
            >
              <Command label={`Choose the side: ${label}`} loop shouldFilter={false} {...led}>
                <Command.Input
                  autoFocus
                  value={query}
                  onValueChange={setQuery}
                  placeholder="A tag, a type, a release, a backup's name"
                  className="w-full border-b border-rule bg-sheet px-4 py-2.5 text-sm outline-none placeholder:text-faded"
                />
                <GroupedChoices
                  things={things}
                  empty="Nothing of that name can be compared."
                  keyOf={keyOf}
                  onChoose={(choice) => {
                    setOpen(false);
                    choose(choice.ref, choice.title);
                  }}
                />
                <p className="border-t border-rule px-4 py-2 text-[13px] text-faded">
                  Of each kind the first sixteen; letters find the others.
                </p>
              </Command>
            </Popover.Content>
          </Popover.Portal>
        </Popover.Root>
      </div>
      {children}
    </div>
  );
}
