"use client";

import { useRouter } from "next/navigation";
import { useState } from "react";
import type { SideValue } from "@/core/compare";
import { mayTake, openConflicts, usualTake, type Change, type Take, type ThreeItem } from "@/core/compare/takes";
import { useAsk } from "@/ui/base/ask";
import { StateShape } from "@/ui/base/mark";
import { BUTTON_LOOK, ProblemNote } from "@/ui/base/parts";

const GROUPS: readonly (readonly [change: Change, title: string, shape: Parameters<typeof StateShape>[0]["shape"]])[] =
  [
    ["conflict", "Both changed it, each otherwise, or a side does not say", "ring"],
    ["theirs", "Theirs changed it", "half"],
    ["mine", "Mine changed it", "half"],
    ["both-alike", "Both changed it alike", "disc"],
  ];
const TAKES: readonly Take[] = ["base", "mine", "theirs"];

function Side({ side }: { readonly side: SideValue | undefined }) {
  if (side?.doubt !== undefined)
    return (
      <span className="text-faded" title={side.doubt}>
        <StateShape shape="dashed" /> {side.shown}
      </span>
    );
  return (
    <span className="key wrap-anywhere">
      {side?.shown ?? "nothing"}
      {side && !side.explicit && <span className="text-faded"> default</span>}
    </span>
  );
}

/** Who changed what, what is in conflict, and what the result takes of each; the result can be saved. */
export function ThreeView({
  items,
  refs,
  mayWork,
}: {
  readonly items: readonly ThreeItem[];
  readonly refs: { readonly base: string; readonly mine: string; readonly theirs: string };
  readonly mayWork: boolean;
}) {
  const router = useRouter();
  const [takes, setTakes] = useState<Readonly<Record<string, Take>>>({});
  const { ask, busy, problem } = useAsk();
  const open = openConflicts(items, takes);
  return (
    <>
      {mayWork && (
        <div className="mb-4 flex flex-wrap items-center gap-3">
          <button
            type="button"
            className={`${BUTTON_LOOK.main} disabled:opacity-50`}
            disabled={busy || open.length > 0 || items.length === 0}
            onClick={() =>
              void ask<{ id: number }>("/api/compare/merge", { ...refs, takes }).then(
                (made) => made && router.push(`/backups/${made.id}`),
              )
            }
          >
            Save the result
          </button>
          <span role="status" className="text-sm">
            {open.length === 0
              ? "Nothing is in conflict any more. The result can be the source of a plan, or a standard."
              : `${open.length} ${open.length === 1 ? "conflict waits" : "conflicts wait"} for you.`}
          </span>
        </div>
      )}
      {problem && <ProblemNote problem={problem} />}
      <div className="grid grid-cols-1 gap-5">
        {GROUPS.map(([change, title, shape]) => {
          const group = items.filter((item) => item.change === change);
          if (group.length === 0) return null;
          return (
            <section key={change} aria-label={title}>
              <h2 className="mb-1.5">
                <StateShape shape={shape} /> {title}{" "}
                <span className="font-body font-normal text-faded">{group.length}</span>
              </h2>
              <div className="relative overflow-x-auto border border-rule bg-sheet">
                <table aria-label={title}>
                  <thead>
                    <tr>
                      <th className="w-[30%]">Setting</th>
                      <th>Base</th>
                      <th>Mine</th>
                      <th>Theirs</th>
                      <th>The result takes</th>
                    </tr>
                  </thead>
                  <tbody>
                    {group.map((item) => {
                      const taken = takes[item.id] ?? usualTake(item.change);
                      return (
                        <tr key={item.id}>
                          <td>
                            {item.title}
                            {item.flies && <span className="ml-1.5 text-[13px] text-straw">flies</span>}
                            <span className="block key wrap-anywhere text-faded">{item.place}</span>
                          </td>
                          <td>
                            <Side side={item.base} />
                          </td>
                          <td>
                            <Side side={item.mine} />
                          </td>
                          <td>
                            <Side side={item.theirs} />
                          </td>
                          <td>
                            <div
                              role="group"
                              aria-label={`The result takes of ${item.title}`}
                              className="flex flex-wrap gap-1"
                            >
                              {TAKES.filter((take) => mayTake(item, take)).map((take) => (
                                <button
                                  key={take}
                                  type="button"
                                  aria-pressed={taken === take}
                                  className={taken === take ? BUTTON_LOOK.taken : BUTTON_LOOK.call}
                                  onClick={() => setTakes({ ...takes, [item.id]: take })}
                                >
                                  {take}
                                </button>
                              ))}
                            </div>
                          </td>
                        </tr>
                      );
                    })}
                  </tbody>
                </table>
              </div>
            </section>
          );
        })}
      </div>
    </>
  );
}
