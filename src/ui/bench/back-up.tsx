"use client";

import type { PartChoices } from "@/contracts/answers/parts";
import { batteriesFeeding, batteriesSaid } from "@/core/catalog";
import { AskButton } from "@/ui/base/ask";
import { Link } from "@/ui/base/link";
import { ProblemNote } from "@/ui/base/parts";
import { Press } from "@/ui/base/press";
import { useOrder } from "@/ui/bench/use-order";

/** Reads out what is in a bay: the board with all that its firmware leads to, or the board alone. */
export function BackUp({
  no,
  aircraftId,
  parts,
  filed,
}: {
  readonly no: number;
  readonly aircraftId: number | undefined;
  readonly parts: PartChoices | undefined;
  readonly filed: { readonly id: number; readonly name: string } | undefined;
}) {
  const { order, busy, problem } = useOrder();
  const reached = parts?.parts.filter(({ kind }) => !parts.shut.includes(kind)) ?? [];
  const hasMore = aircraftId !== undefined && reached.length > 0;
  const feeding = batteriesFeeding(reached);
  return (
    <div className="mb-3 grid gap-1">
      <div className="flex flex-wrap items-center gap-x-3 gap-y-1">
        {hasMore && (
          <Press busy={busy} onClick={() => void order({ bayNo: no, aircraftId, goal: { kind: "parts", runs: {} } })}>
            Back it all up now
          </Press>
        )}
        <AskButton path={`/api/bench/${no}`} body={{ kind: "back-up" }}>
          {hasMore ? "The board alone" : "Back it up now"}
        </AskButton>
        <span role="status" className="text-sm">
          {filed && (
            <>
              Filed as{" "}
              <Link href={`/backups/${filed.id}`} className="inline-flex min-h-6 items-center">
                {filed.name}
              </Link>
            </>
          )}
        </span>
      </div>
      {hasMore && (
        <p className="text-sm text-faded">
          All of it: the board and {reached.length === 1 ? "one part" : `${reached.length} parts`} behind it
          {feeding.length === 0
            ? ""
            : `; ${batteriesSaid(feeding)} ${feeding.length > 1 ? "are" : "is"} asked for on the way`}
          .
        </p>
      )}
      {problem && <ProblemNote problem={problem} />}
    </div>
  );
}
