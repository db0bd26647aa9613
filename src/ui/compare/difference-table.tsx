"use client";

import { useMemo } from "react";
import type { Difference, SideValue } from "@/core/compare";
import { LongTable } from "@/ui/base/long-table";
import { StateShape } from "@/ui/base/mark";

const CAUSE: Readonly<Record<Difference["cause"], string>> = {
  set: "",
  "default-moved": "Nobody set it: the default moved between the releases.",
  "only-left": "Only on the left.",
  "only-right": "Only on the right.",
  behaviour: "The number is the same, what it does is not.",
  unsure: "",
};

function Value({ side, backupId }: { readonly side: SideValue | undefined; readonly backupId: number | null }) {
  if (!side) return <span className="text-faded">nothing</span>;
  if (side.doubt !== undefined)
    return (
      <span className="text-faded">
        <StateShape shape="dashed" /> {side.shown}
        {side.line > 0 && backupId !== null && (
          <a className="block min-h-6 text-[13px] leading-6" href={`/backups/${backupId}#line-${side.line}`}>
            line {side.line}
          </a>
        )}
      </span>
    );
  const text = (
    <span className="key wrap-anywhere">
      {side.shown}
      {!side.explicit && <span className="text-faded"> default</span>}
    </span>
  );
  if (side.line === 0 || backupId === null) return text;
  return (
    <>
      {text}
      <a className="block min-h-6 text-[13px] leading-6" href={`/backups/${backupId}#line-${side.line}`}>
        line {side.line}
      </a>
    </>
  );
}

export interface SinceText {
  readonly text: string;
  readonly backupId: number;
}

/** Differences value by value, both sides with their lines, and what explains them. */
export function DifferenceTable({
  label,
  items,
  leftName,
  rightName,
  leftBackup,
  rightBackup,
  since,
}: {
  /** What the sides are called at the head of their columns. */
  readonly leftName: string;
  readonly rightName: string;
  readonly label: string;
  readonly items: readonly Difference[];
  readonly leftBackup: number | null;
  readonly rightBackup: number | null;
  readonly since: Readonly<Record<string, SinceText>>;
}) {
  const ids = useMemo(() => items.map(({ id }) => encodeURIComponent(id)), [items]);
  return (
    <LongTable
      label={label}
      ids={ids}
      head={
        <thead>
          <tr>
            <th className="w-[34%]">Setting</th>
            <th className="w-[19%] wrap-anywhere">{leftName}</th>
            <th className="w-[19%] wrap-anywhere">{rightName}</th>
            <th>{Object.keys(since).length > 0 ? "Since, and why" : "Why"}</th>
          </tr>
        </thead>
      }
      row={(index, { key, ...props }) => {
        const item = items[index];
        return item ? (
          <tr key={key} {...props} className="target:bg-straw-wash">
            <Cells item={item} from={since[item.id]} leftBackup={leftBackup} rightBackup={rightBackup} />
          </tr>
        ) : null;
      }}
    />
  );
}

interface CellsProps {
  readonly item: Difference;
  readonly from: SinceText | undefined;
  readonly leftBackup: number | null;
  readonly rightBackup: number | null;
}

function Cells({ item, from, leftBackup, rightBackup }: CellsProps) {
  const reasons = [CAUSE[item.cause], ...item.why.map((why) => `${why.replace(/\.$/, "")}.`)].filter(Boolean);
  return (
    <>
      <td title={item.says}>
        <span className="flex items-baseline gap-2">
          <span className="translate-y-0.5">
            <StateShape
              shape={item.kind === "line" || item.cause === "unsure" ? "dashed" : item.flies ? "triangle" : "half"}
            />
          </span>
          <span>
            {item.title}
            <span className="sr-only">{item.flies ? ", changes how it flies" : ""}</span>
            <span className="block key wrap-anywhere text-faded">{item.place}</span>
          </span>
        </span>
      </td>
      <td>
        <Value side={item.left} backupId={leftBackup} />
      </td>
      <td>
        <Value side={item.right} backupId={rightBackup} />
      </td>
      <td className="text-sm">
        {from && <a href={`/backups/${from.backupId}`}>{from.text}</a>}
        {reasons.map((text) => (
          <span key={text} className="block text-faded">
            {text}
          </span>
        ))}
      </td>
    </>
  );
}
