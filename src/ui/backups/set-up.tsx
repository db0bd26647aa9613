"use client";

import Link from "next/link";
import { useRouter } from "next/navigation";
import { useAsk } from "@/ui/base/ask";
import { BUTTON_LOOK, ProblemNote, Sheet } from "@/ui/base/parts";

/** Orders a job that sets the aircraft's board up as a backup says; where the board is in no bay, says what to do first. */
export function SetUpAgain({
  tag,
  aircraftId,
  backupId,
  bayNo,
}: {
  readonly tag: string;
  readonly aircraftId: number;
  readonly backupId: number;
  /** The bay that its board is in. */
  readonly bayNo: number | undefined;
}) {
  const router = useRouter();
  const { ask, busy, problem } = useAsk();
  return (
    <Sheet label="Go back to it" className="px-4 py-3.5">
      <h2 id="go-back" className="mb-1.5">
        Go back to it
      </h2>
      <p className="text-sm">
        {tag} can be set up as it is written here, on the firmware that it runs now. A read-out of what is on the board
        is filed first.
      </p>
      {bayNo === undefined ? (
        <p className="mt-1.5 text-sm">
          Put the board of {tag} into a <Link href="/bench/1">bay</Link> and plug it in; then it is ordered here.
        </p>
      ) : (
        <button
          type="button"
          className={`${BUTTON_LOOK.main} mt-2 disabled:opacity-50`}
          disabled={busy}
          onClick={() => {
            void ask<{ id: number }>("/api/jobs", { bayNo, aircraftId, goal: "set-up", backupId }).then(
              (job) => job && router.push(`/jobs/${job.id}`),
            );
          }}
        >
          Order it in bay {bayNo}
        </button>
      )}
      {problem && <ProblemNote problem={problem} />}
    </Sheet>
  );
}
