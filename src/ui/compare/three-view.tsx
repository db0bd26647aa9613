"use client";

import { useRouter } from "next/navigation";
import { useMemo, useState } from "react";
import type { SideValue } from "@/core/compare";
import { mayTake, openConflicts, usualTake, type Change, type Take, type ThreeItem } from "@/core/compare/takes";
import { groupBy } from "@/core/group-by";
import { useAsk } from "@/ui/base/ask";
import { LongTable } from "@/ui/base/long-table";
import { StateShape } from "@/ui/base/mark";
import { ProblemNote } from "@/ui/base/parts";
import { Press } from "@/ui/base/press";
import { counted } from "@/ui/base/words";
import { SIDE_NAME } from "@/ui/compare/three-names";

const GROUPS: readonly (readonly [change: Change, title: string, shape: Parameters<typeof StateShape>[0]["shape"]])[] =
  [
    ["conflict", "Changed on both sides and differently, or a side does not say", "ring"],
    ["theirs", "Changed there", "half"],
    ["mine", "Changed here", "half"],
    ["both-alike", "Changed on both sides alike", "disc"],
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
  const [takes, setTakes] = useState<Takes>({});
  const { ask, busy, problem } = useAsk();
  const open = openConflicts(items, takes);
  const groups = useMemo(() => groupBy(items, ({ change }) => change), [items]);
  return (
    <>
      {mayWork && (
        <div className="mb-4 flex flex-wrap items-center gap-3">
          <Press
            look="main"
            busy={busy}
            disabled={open.length > 0 || items.length === 0}
            onClick={() =>
              void ask<{ id: number }>("/api/compare/merge", { ...refs, takes }).then(
                (made) => made && router.push(`/backups/${made.id}`),
              )
            }
          >
            Save the result
          </Press>
          <span role="status" className="text-sm">
            {open.length === 0
              ? "All is decided. The result can be the source of a plan, or a standard."
              : `${counted(open.length, "value waits", "values wait")} for your decision.`}
          </span>
        </div>
      )}
      {problem && <ProblemNote problem={problem} />}
      <div className="grid grid-cols-1 gap-5">
        {GROUPS.map(([change, title, shape]) => {
          const group = groups.get(change) ?? [];
          if (group.length === 0) return null;
          return (
            <section key={change} aria-label={title}>
              <h2 className="mb-1.5">
                <StateShape shape={shape} /> {title}{" "}
                <span className="font-body font-normal text-faded">{group.length}</span>
              </h2>
              <ThreeTable label={title} items={group} takes={takes} onTake={setTakes} />
            </section>
          );
        })}
      </div>
    </>
  );
}

type Takes = Readonly<Record<string, Take>>;

function ThreeTable({
  label,
  items,
  takes,
  onTake,
}: {
  readonly label: string;
  readonly items: readonly ThreeItem[];
  readonly takes: Takes;
  readonly onTake: (takes: Takes) => void;
}) {
  const ids = useMemo(() => items.map(({ id }) => encodeURIComponent(id)), [items]);
  return (
    <LongTable
      label={label}
      ids={ids}
      head={
        <thead>
          <tr>
            <th className="w-[30%]">Setting</th>
            {TAKES.map((take) => (
              <th key={take}>{SIDE_NAME[take]}</th>
            ))}
            <th>The result takes</th>
          </tr>
        </thead>
      }
      row={(index, { key, ...props }) => {
        const item = items[index];
        if (!item) return null;
        const taken = takes[item.id] ?? usualTake(item.change);
        return (
          <tr key={key} {...props}>
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
              <div role="group" aria-label={`The result takes of ${item.title}`} className="flex flex-wrap gap-1">
                {TAKES.filter((take) => mayTake(item, take)).map((take) => (
                  <Press
                    key={take}
                    aria-pressed={taken === take}
                    look={taken === take ? "taken" : "call"}
                    onClick={() => onTake({ ...takes, [item.id]: take })}
                  >
                    {SIDE_NAME[take]}
                  </Press>
                ))}
              </div>
            </td>
          </tr>
        );
      }}
    />
  );
}
