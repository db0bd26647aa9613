"use client";

import { Link } from "@/ui/base/link";
import type { Standing } from "@/core/campaign/standing";
import { AskButton } from "@/ui/base/ask";
import { Mark } from "@/ui/base/mark";
import { Plate } from "@/ui/base/parts";
import { Table } from "@/ui/base/table";
import { WithReason } from "@/ui/campaign/controls";

export interface MemberView {
  readonly tag: string;
  readonly label: string;
  readonly place: number;
  readonly standing: Standing;
  readonly leftOutBecause?: { readonly reason: string; readonly account: string };
  readonly jobId?: number;
  readonly bayNo?: number;
  readonly ended?: string;
}

const STANDS: Readonly<Record<Standing, { readonly mark: Parameters<typeof Mark>[0]["mark"]; readonly say: string }>> =
  {
    done: { mark: "ok", say: "done, signed off" },
    there: { mark: "ok", say: "was there already" },
    "under-way": { mark: "half", say: "on the bench" },
    stopped: { mark: "no", say: "its job was stopped; it waits for another" },
    "left-out": { mark: "none", say: "left out" },
    waiting: { mark: "unknown", say: "waiting for its turn" },
  };

function Stands({ member }: { readonly member: MemberView }) {
  const { standing, leftOutBecause: why, jobId, bayNo, ended } = member;
  const { mark, say } = STANDS[standing];
  return (
    <>
      <Mark mark={mark} /> {say}
      {bayNo === undefined ? "" : `, bay ${bayNo}`}
      {ended === undefined || standing === "waiting" ? "" : `, ${ended}`}
      {why && standing === "left-out" ? `: ${why.reason} (${why.account})` : ""}
      {jobId !== undefined && (
        <>
          {" "}
          <Link href={`/jobs/${jobId}`} className="inline-flex min-h-6 items-center">
            visit {jobId}
          </Link>
        </>
      )}
    </>
  );
}

interface TurnProps {
  readonly member: MemberView;
  readonly isFirst: boolean;
  readonly path: `/api/campaigns/${number}`;
}

/** What a lead can do with an aircraft's turn. */
function Turn({ member: { tag, standing }, isFirst, path }: TurnProps) {
  const open = standing === "waiting" || standing === "stopped";
  return (
    <span className="flex flex-wrap gap-1.5">
      {open && !isFirst && (
        <AskButton path={path} body={{ kind: "move", tag, by: -1 }}>
          Earlier<span className="sr-only">: {tag}</span>
        </AskButton>
      )}
      {open && (
        <WithReason opens={`Leave ${tag} out`} does="Leave it out" path={path} body={{ kind: "leave-out", tag }} />
      )}
      {standing === "left-out" && (
        <AskButton path={path} body={{ kind: "take-in", tag }}>
          Take {tag} in again
        </AskButton>
      )}
    </span>
  );
}

/** Every aircraft of a campaign in its order, where it stands, and what a lead can do with it. */
export function CampaignMembers({
  id,
  members,
  isLead,
}: {
  readonly id: number;
  readonly members: readonly MemberView[];
  readonly isLead: boolean;
}) {
  const path = `/api/campaigns/${id}` as const;
  return (
    <Table
      rows={members}
      keyOf={({ tag }) => tag}
      columns={[
        {
          head: "Aircraft",
          look: "whitespace-nowrap",
          cell: ({ tag, label }) => (
            <>
              <Link href={`/aircraft/${tag}`} className="inline-flex min-h-6 items-center no-underline">
                <Plate tag={tag} />
              </Link>{" "}
              <span className="text-faded">{label}</span>
            </>
          ),
        },
        { head: "Where it stands", cell: (member) => <Stands member={member} /> },
        isLead && { head: "Order", cell: (member, i) => <Turn member={member} isFirst={i === 0} path={path} /> },
      ]}
    />
  );
}
