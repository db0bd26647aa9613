"use client";

import Link from "next/link";
import { AskButton } from "@/ui/base/ask";
import { useBay } from "@/ui/bench/live";

/** How the board stands on the cable at this moment, with the hands that matter in the middle of a job. */
export function BoardNow({ bayNo, mayWork }: { readonly bayNo: number; readonly mayWork: boolean }) {
  const live = useBay(bayNo);
  if (live?.simBoardId === undefined) return null;
  const seen = live.seenAs ?? "nothing";
  const path = `/api/bench/${bayNo}`;
  return (
    <div className="mt-3 border-t border-rule pt-2.5 text-sm">
      <p>
        Seen as <b>{seen}</b>
        {live.port === undefined ? "" : ` on ${live.port}`}. Cable <b>{live.cable ? "in" : "out"}</b> · battery{" "}
        <b>{live.battery ? "in" : "out"}</b>
      </p>
      {mayWork && (
        <div className="no-print mt-2 flex flex-wrap gap-2">
          {live.cable ? (
            <AskButton path={path} body={{ kind: "unplug" }}>
              Pull the cable
            </AskButton>
          ) : (
            <>
              <AskButton path={path} body={{ kind: "plug" }}>
                Plug it in
              </AskButton>
              {live.hands?.bootButton && (
                <AskButton path={path} body={{ kind: "plug", button: true }}>
                  Plug in with the boot button
                </AskButton>
              )}
              {live.hands?.bootPads && !live.hands.bootButton && (
                <AskButton path={path} body={{ kind: "plug", pads: true }}>
                  Plug in with bridged pads
                </AskButton>
              )}
            </>
          )}
          <AskButton path={path} body={{ kind: "battery", fitted: !live.battery }}>
            {live.battery ? "Take the battery out" : "Fit the battery"}
          </AskButton>
        </div>
      )}
      <p className="mt-2">
        <Link href={`/bench/${bayNo}`}>All hands at bay {bayNo}</Link>
      </p>
    </div>
  );
}
