"use client";

import Link from "next/link";
import { useRouter } from "next/navigation";
import { useState } from "react";
import { EMPTY_BAY, type BayLive } from "@/core/job/live";
import { AskButton, useAsk } from "@/ui/base/ask";
import { Mark } from "@/ui/base/mark";
import { BUTTON_LOOK, Facts, LinkButton, Plate, ProblemNote, Sheet } from "@/ui/base/parts";
import { FaultSwitches, Hands, Pace, Shelf, type Shelved } from "@/ui/bench/hands";
import { useBay } from "@/ui/bench/live";
import type { ModelChoice } from "@/ui/bench/models-like";
import { WhoseIsIt } from "@/ui/bench/whose";

export interface ReleaseChoice {
  readonly id: string;
  readonly title: string;
  readonly standing: string;
  readonly family: string;
  readonly version: string;
  readonly targets: readonly string[];
  readonly builtOn: string;
  readonly descendsFrom: string | null;
}

/** The usual next release first: of the same family, stable, newest; the one that runs now last. */
function byLikelihood(here: ReleaseChoice | undefined) {
  const rank = (release: ReleaseChoice) =>
    (release.id === here?.id ? 4 : 0) +
    (release.family === here?.family ? 0 : 2) +
    (release.standing === "stable" ? 0 : 1);
  return (a: ReleaseChoice, b: ReleaseChoice) => rank(a) - rank(b) || (a.builtOn < b.builtOn ? 1 : -1);
}

interface BaySheetProps {
  readonly no: number;
  readonly shelf: readonly Shelved[];
  readonly releases: readonly ReleaseChoice[];
  readonly models: readonly ModelChoice[];
  /** Tags of aircraft that have no board yet. */
  readonly boardless: readonly string[];
  readonly factor: number;
  readonly mayWork: boolean;
}

function OrderUpdate({
  no,
  aircraftId,
  releases,
}: {
  readonly no: number;
  readonly aircraftId: number;
  readonly releases: readonly ReleaseChoice[];
}) {
  const router = useRouter();
  const { ask, busy, problem } = useAsk();
  const [releaseId, setReleaseId] = useState(releases[0]?.id ?? "");
  if (releases.length === 0)
    return <p className="text-sm text-faded">No release in the workshop follows the one on this board.</p>;
  return (
    <div className="grid gap-2">
      <div className="flex flex-wrap gap-2">
        <select
          aria-label="Release"
          value={releaseId}
          onChange={(event) => setReleaseId(event.target.value)}
          className={BUTTON_LOOK.plain}
        >
          {releases.map((release) => (
            <option key={release.id} value={release.id}>
              Update to {release.title}, {release.standing}
            </option>
          ))}
        </select>
        <button
          type="button"
          className={`${BUTTON_LOOK.main} disabled:opacity-50`}
          disabled={busy}
          onClick={() => {
            void ask<{ id: number }>("/api/jobs", { bayNo: no, aircraftId, releaseId }).then(
              (job) => job && router.push(`/jobs/${job.id}`),
            );
          }}
        >
          Order this job
        </button>
      </div>
      <p className="text-sm text-faded">Nothing starts yet: the card shows every step first.</p>
      {problem && <ProblemNote problem={problem} />}
    </div>
  );
}

/** Why the board in a bay is matched to no aircraft. */
function whyNobodys({ presence, mark, chipId }: BayLive): string {
  if (presence === "none") return "Plug it in: it is identified by its console and its chip id.";
  if (presence === "usb-loader")
    return "It shows only its loader. Plug it in without its boot button, so that it can say who it is.";
  if (mark === "call") return "A chip id that is not unique does not say whose it is.";
  return chipId === undefined
    ? "It has not said who it is."
    : "No aircraft in the register owns this chip id. Whose is it?";
}

/** One bay: what is in it, what is known of it, what can be done with it. */
export function BaySheet({ no, shelf, releases, models, boardless, factor, mayWork }: BaySheetProps) {
  const live = useBay(no) ?? EMPTY_BAY;
  const inBay = live.simBoardId !== undefined;
  const here = releases.find((release) => release.family === live.family && release.version === live.release);
  const following = releases
    .filter(
      (release) =>
        here !== undefined &&
        (release.descendsFrom === here.id || release.id === here.id) &&
        release.targets.includes(live.target ?? ""),
    )
    .toSorted(byLikelihood(here));
  const whose = (
    <WhoseIsIt
      key={live.chipId ?? ""}
      no={no}
      owned={live.tag !== undefined}
      boardName={live.boardName}
      target={live.target}
      models={models}
      boardless={boardless}
    />
  );
  return (
    <>
      <div className="mb-4 flex flex-wrap items-center gap-4">
        {live.tag === undefined ? (
          <span className="font-head text-[22px] font-[640]">Bay {no}</span>
        ) : (
          <Plate tag={live.tag} big />
        )}
        <div>
          <h1 className="flex items-center gap-2.5">
            {inBay && <Mark mark={live.mark} />}
            {live.say}
          </h1>
          <p className="text-faded">
            Bay {no}
            {live.simLabel === undefined ? "" : ` · ${live.simLabel}`}
          </p>
        </div>
        <nav aria-label="Bays" className="ml-auto flex gap-1">
          {[1, 2, 3, 4, 5, 6].map((other) => (
            <Link
              key={other}
              href={`/bench/${other}`}
              {...(other === no ? { "aria-current": "page" as const } : {})}
              className={other === no ? BUTTON_LOOK.main : BUTTON_LOOK.plain}
            >
              {other}
            </Link>
          ))}
        </nav>
      </div>
      <div className="grid grid-cols-[1fr_330px] items-start gap-5 max-lg:grid-cols-1">
        <div className="grid min-w-0 gap-5">
          {inBay && (
            <Sheet label="What to do" className="px-4 py-3.5">
              <h2 className="mb-2">What to do with it</h2>
              {live.job ? (
                <LinkButton href={`/jobs/${live.job.id}`} look="main">
                  Open the job card
                </LinkButton>
              ) : null}
              {live.job === undefined && mayWork && live.presence === "console" && (
                <div className="mb-3 flex flex-wrap items-center gap-x-3 gap-y-1">
                  <AskButton path={`/api/bench/${no}`} body={{ kind: "back-up" }}>
                    Back it up now
                  </AskButton>
                  <span role="status" className="text-sm">
                    {live.filed && (
                      <>
                        Filed as{" "}
                        <Link href={`/backups/${live.filed.id}`} className="inline-flex min-h-6 items-center">
                          {live.filed.name}
                        </Link>
                      </>
                    )}
                  </span>
                </div>
              )}
              {live.job ? null : live.aircraftId === undefined ? (
                <>
                  <p className="text-sm">{whyNobodys(live)}</p>
                  {/* it stays while the board is read out: what is typed is not lost */}
                  {mayWork && live.chipId !== undefined && live.mark !== "call" && <div className="mt-2">{whose}</div>}
                </>
              ) : mayWork ? (
                <OrderUpdate
                  key={following.map((r) => r.id).join()}
                  no={no}
                  aircraftId={live.aircraftId}
                  releases={following}
                />
              ) : (
                <p className="text-sm">Observers look on; a technician orders jobs.</p>
              )}
            </Sheet>
          )}
          {mayWork && (
            <Sheet label="Your hands" className="px-4 py-3.5">
              <h2>Your hands</h2>
              <p className="mt-0.5 mb-3 text-sm text-faded">
                Boards in this workshop are simulated; these are the hands that a person would lay on them.
              </p>
              {inBay ? (
                <Hands no={no} live={live} />
              ) : (
                <Shelf key={shelf.map((b) => b.id).join()} no={no} boards={shelf} />
              )}
              {inBay && live.job === undefined && (
                <div className="mt-3 border-t border-rule pt-3">
                  <AskButton path={`/api/bench/${no}`} body={{ kind: "take-out" }}>
                    Take the board out of the bay
                  </AskButton>
                </div>
              )}
            </Sheet>
          )}
        </div>
        <div className="grid min-w-0 gap-4">
          <Sheet label="What is known" className="px-4 py-3.5">
            <h2 className="mb-2">What is known of it</h2>
            {live.presence === undefined || live.presence === "none" ? (
              <p className="text-sm text-faded">{inBay ? "Nothing is seen on the cable." : "The bay is empty."}</p>
            ) : (
              <Facts
                facts={[
                  ["Seen as", live.presence === "console" ? "a console" : "a USB loader"],
                  ["On", `${live.port ?? ""}, ${live.usb ?? ""}`],
                  ["Board", live.boardName ?? "not said"],
                  [
                    "Firmware",
                    live.family === undefined
                      ? "not said"
                      : `${live.family} ${live.release ?? ""} of ${live.builtOn ?? "?"}`,
                  ],
                  ["Target", live.target ?? "not said"],
                  ["Chip id", live.chipId ?? "not said"],
                  ["Settings", live.kept ?? "not said"],
                  [
                    "Aircraft",
                    live.tag === undefined
                      ? "not matched"
                      : `${live.tag}${live.matchedBy === undefined ? "" : `, by ${live.matchedBy}`}`,
                  ],
                ]}
              />
            )}
            {mayWork && live.presence === "console" && live.tag !== undefined && live.job === undefined && (
              <details className="mt-3 border-t border-rule pt-2 text-sm">
                <summary className="min-h-6 cursor-pointer text-water">It flies on another aircraft now</summary>
                <div className="mt-2">{whose}</div>
              </details>
            )}
          </Sheet>
          {mayWork && (
            <Sheet label="Simulation" className="px-4 py-3.5">
              <h2 className="mb-2">Time and trouble</h2>
              <p className="mb-1.5 text-sm text-faded">How fast simulated boards live</p>
              <Pace factor={factor} />
              {inBay && (
                <>
                  <p className="mt-3 mb-1.5 text-sm text-faded">What can go wrong</p>
                  <FaultSwitches no={no} live={live} />
                </>
              )}
            </Sheet>
          )}
        </div>
      </div>
    </>
  );
}
