"use client";

import { Command } from "cmdk";
import { useState } from "react";

interface Choice {
  readonly group: string;
  readonly title: string;
}

/**
 * Which choice Enter takes: the one that was walked to, or the first. Choices that an answer of the server brings are not
 * led by themselves, so that Enter would do nothing.
 */
export function useLed<T>(things: readonly T[], keyOf: (thing: T) => string) {
  const [walked, setWalked] = useState("");
  const keys = things.map(keyOf);
  return { value: keys.includes(walked) ? walked : (keys[0] ?? ""), onValueChange: setWalked };
}

/** A list of choices under their headings, walked with the arrow keys. */
export function GroupedChoices<T extends Choice>({
  things,
  empty,
  keyOf,
  onChoose,
}: {
  readonly things: readonly T[];
  readonly empty: string;
  readonly keyOf: (thing: T) => string;
  readonly onChoose: (thing: T) => void;
}) {
  const groups = [...new Set(things.map((thing) => thing.group))];
  return (
    <Command.List className="p-2">
      <Command.Empty className="px-3 py-4 text-sm text-faded">{empty}</Command.Empty>
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
                key={keyOf(thing)}
                value={keyOf(thing)}
                className="cursor-pointer rounded-base px-3 py-2 text-[15px] text-ink data-[selected=true]:bg-water-wash"
                onSelect={() => onChoose(thing)}
              >
                {thing.title}
              </Command.Item>
            ))}
        </Command.Group>
      ))}
    </Command.List>
  );
}
