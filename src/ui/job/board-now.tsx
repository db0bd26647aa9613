"use client";

import { Link } from "@/ui/base/link";
import { CableHands } from "@/ui/bench/hands";
import { useBay } from "@/ui/bench/live";

/** How the board stands on the cable at this moment, with the hands that matter in the middle of a job. */
export function BoardNow({ bayNo, mayWork }: { readonly bayNo: number; readonly mayWork: boolean }) {
  const live = useBay(bayNo);
  if (live?.simBoardId === undefined) return null;
  const seen = live.seenAs ?? "nothing";
  return (
    <div className="mt-3 border-t border-rule pt-2.5 text-sm">
      <p>
        Seen as <b>{seen}</b>
        {live.port === undefined ? "" : ` on ${live.port}`}. Cable <b>{live.cable ? "in" : "out"}</b> · battery{" "}
        <b>{live.battery ? "in" : "out"}</b>
        {live.secondBattery === undefined ? null : (
          <>
            {" "}
            · second battery <b>{live.secondBattery ? "in" : "out"}</b>
          </>
        )}
      </p>
      {mayWork && (
        <div className="no-print mt-2">
          <CableHands no={bayNo} live={live} />
        </div>
      )}
      <p className="mt-2">
        <Link href={`/bench/${bayNo}`}>All hands at bay {bayNo}</Link>
      </p>
    </div>
  );
}
