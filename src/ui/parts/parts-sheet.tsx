import type { PartsView, PartView } from "@/contracts/answers/parts";
import { Link } from "@/ui/base/link";
import { StateShape } from "@/ui/base/mark";
import { Empty, Sheet } from "@/ui/base/parts";
import { Table } from "@/ui/base/table";
import { age, dayTime } from "@/ui/base/time";
import type { ReactNode } from "react";

/** What is to be said of a part beside what it runs: worst first. */
function remarks({ odd, wanted }: PartView): ReactNode {
  const says = [...(wanted?.met === false ? [`${wanted.says}, which it is not`] : []), ...odd];
  if (says.length === 0) return null;
  return (
    <ul>
      {says.map((each) => (
        <li key={each}>
          <StateShape shape="triangle" /> {each}
        </li>
      ))}
    </ul>
  );
}

/** The parts of an aircraft as a set: where each is, what it runs, when it was read, what is odd about it. */
export function PartsSheet({
  view: { parts, sentence, shut },
  tag,
  now,
  children,
}: {
  readonly view: PartsView;
  readonly tag: string;
  readonly now: number;
  readonly children?: ReactNode;
}) {
  return (
    <Sheet label="Its parts" className="overflow-x-auto">
      <div className="px-4 pt-3 pb-1">
        <h2>Parts behind its board</h2>
        <p className="text-sm">{sentence}</p>
        {shut.length > 0 && (
          <p className="text-sm text-faded">
            The firmware on the board opens no line to the {shut.join(" and the ")}: they are read on a release that
            does.
          </p>
        )}
      </div>
      {parts.length === 0 ? (
        <Empty>A board model can carry some; what is fitted beside the board is said here.</Empty>
      ) : (
        <Table
          label="Parts"
          rows={parts}
          keyOf={({ name }) => name}
          columns={[
            { head: "Part", names: true, cell: ({ title, place }) => `${title}, ${place}` },
            {
              head: "Runs",
              look: "whitespace-nowrap",
              cell: ({ read }) =>
                read ? (
                  <Link href={`/backups/${read.backupId}`}>{read.firmware}</Link>
                ) : (
                  <span className="text-faded">not read yet</span>
                ),
            },
            {
              head: "Built for",
              look: "whitespace-nowrap",
              cell: ({ read, target }) => <span className="key">{read?.target ?? target ?? "not known"}</span>,
            },
            {
              head: "Read",
              look: "whitespace-nowrap",
              hint: ({ read }) => (read ? dayTime(read.at) : undefined),
              cell: ({ name, read }) =>
                read ? (
                  <Link href={`/aircraft/${tag}/history?part=${encodeURIComponent(name)}`}>{age(read.at, now)}</Link>
                ) : (
                  ""
                ),
            },
            { head: "", cell: remarks, look: "text-sm" },
          ]}
        />
      )}
      {children}
    </Sheet>
  );
}
