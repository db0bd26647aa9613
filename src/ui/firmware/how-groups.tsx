"use client";

import { useMemo } from "react";
import type { How } from "@/core/compare";
import { Folded } from "@/ui/base/folded";
import { LongTable } from "@/ui/base/long-table";
import { StateShape } from "@/ui/base/mark";
import { HOW_SAYS } from "@/ui/firmware/hows";

/** A value, and the aircraft that it is true of; of many, the first, and how many more. */
export interface HeldBy {
  readonly text: string;
  readonly tags: readonly string[];
  readonly more: number;
}

export interface HowRow {
  readonly id: string;
  readonly title: string;
  readonly place: string;
  readonly area: string;
  readonly flies: boolean;
  /** Sentences: why it is so, or what the setting does. */
  readonly why: readonly string[];
  /** Between the setting and the why, one for each column. */
  readonly cells: readonly (string | readonly HeldBy[])[];
}

export interface HowGroup {
  readonly how: How;
  readonly rows: readonly HowRow[];
}

/** A quiet group of more rows begins folded. */
const FEW = 6;
/** So many rows are drawn at once although they are folded. */
const DRAWN = 150;

function Cell({ cell }: { readonly cell: HowRow["cells"][number] }) {
  if (typeof cell === "string") return <td className="key">{cell}</td>;
  return (
    <td>
      <ul>
        {cell.map(({ text, tags, more }) => (
          <li key={text}>
            <span className="key">{text}</span>{" "}
            <span className="text-sm text-faded">
              {tags.join(", ")}
              {more > 0 ? ` and ${more} more` : ""}
            </span>
          </li>
        ))}
      </ul>
    </td>
  );
}

function Group({ group: { how, rows }, head }: { readonly group: HowGroup; readonly head: readonly string[] }) {
  const { title, shape, quiet } = HOW_SAYS[how];
  const ids = useMemo(() => rows.map(({ id }) => encodeURIComponent(`${how} ${id}`)), [how, rows]);
  const heading = (
    <>
      <StateShape shape={shape} /> {title} <span className="font-body font-normal text-faded">{rows.length}</span>
    </>
  );
  const table = (
    <LongTable
      label={title}
      ids={ids}
      head={
        <thead>
          <tr>
            {head.map((name, i) => (
              <th key={name} className={i === 0 ? "w-[30%]" : i < head.length - 1 ? "w-[18%] min-w-24" : ""}>
                {name}
              </th>
            ))}
          </tr>
        </thead>
      }
      row={(index, { key, ...props }) => {
        const row = rows[index];
        return row ? (
          <tr key={key} {...props}>
            <td>
              {row.title}
              {row.flies && <span className="ml-1.5 text-[13px] text-straw">flies</span>}
              <span className="block key wrap-anywhere text-faded">
                {row.place} · {row.area}
              </span>
            </td>
            {row.cells.map((cell, i) => (
              <Cell key={i} cell={cell} />
            ))}
            <td className="text-sm">
              {row.why.map((why) => (
                <p key={why}>{why}</p>
              ))}
            </td>
          </tr>
        ) : null;
      }}
    />
  );
  return (
    <section id={how} aria-label={title}>
      {quiet && rows.length > FEW ? (
        <Folded className="mb-1.5 min-h-6 font-head text-[17px] font-[640]" head={heading} lazy={rows.length > DRAWN}>
          {table}
        </Folded>
      ) : (
        <>
          <h2 className="mb-1.5">{heading}</h2>
          {table}
        </>
      )}
    </section>
  );
}

/** What a release touches, by how it does, the silent ones first. */
export function HowGroups({
  groups,
  head,
}: {
  readonly groups: readonly HowGroup[];
  readonly head: readonly string[];
}) {
  return (
    <div className="grid grid-cols-1 gap-5">
      {groups.map((group) => (
        <Group key={group.how} group={group} head={head} />
      ))}
    </div>
  );
}
