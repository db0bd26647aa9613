"use client";

import Link from "next/link";
import { EMPTY_BAY, type BayLive } from "@/core/job/live";
import { AskButton } from "@/ui/base/ask";
import { Mark } from "@/ui/base/mark";
import { BUTTON_LOOK, Facts, LinkButton, Plate, Sheet } from "@/ui/base/parts";
import { FaultSwitches, Hands, Pace, Shelf, type Shelved } from "@/ui/bench/hands";
import { useBay } from "@/ui/bench/live";
import { OrderRelease } from "@/ui/bench/order-release";
import type { ModelChoice } from "@/ui/bench/models-like";
import { WhoseIsIt } from "@/ui/bench/whose";

interface BaySheetProps {
  readonly no: number;
  readonly shelf: readonly Shelved[];
  readonly models: readonly ModelChoice[];
  /** Tags of aircraft that have no board yet. */
  readonly boardless: readonly string[];
  readonly factor: number;
  readonly mayWork: boolean;
}

/** Why the board in a bay is matched to no aircraft. */
function whyNobodys({ presence, mark, chipId, loaderId }: BayLive): string {
  if (presence === "none") return "Plug it in: it is identified by its console and its chip id.";
  if (presence === "usb-loader")
    return mark === "call"
      ? `Several boards of the register can have the loader id ${loaderId ?? ""}. Plug it in without its boot button, so that it can say who it is.`
      : `No board of the register can have the loader id ${loaderId ?? ""}. Plug it in without its boot button, so that it can say who it is.`;
  if (mark === "call") return "A chip id that is not unique does not say whose it is.";
  return chipId === undefined
    ? "It has not said who it is."
    : "No aircraft in the register owns this chip id. Whose is it?";
}

/** What to try with a board that is plugged in and not seen, the likeliest cause first. */
function NothingSeen({ hands }: Pick<BayLive, "hands">) {
  const byHand = hands?.bootButton
    ? "Pull the cable and plug it in with the boot button held."
    : hands?.bootPads
      ? "Pull the cable and plug it in with the boot pads bridged."
      : undefined;
  return (
    <div className="grid gap-1.5 text-sm">
      <p>Nothing shows itself on the cable. What to try, the likeliest first:</p>
      <ol className="grid list-decimal gap-1 pl-5">
        <li>Another cable: some carry power only, and a board that gets no data is lit all the same.</li>
        {byHand !== undefined && (
          <li>
            {byHand} Firmware that was half written starts and says nothing; the loader is reached all the same, and
            from there the board can be revived.
          </li>
        )}
        <li>Another socket of the bench.</li>
      </ol>
    </div>
  );
}

/** One bay: what is in it, what is known of it, what can be done with it. */
export function BaySheet({ no, shelf, models, boardless, factor, mayWork }: BaySheetProps) {
  const live = useBay(no) ?? EMPTY_BAY;
  const inBay = live.simBoardId !== undefined;
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
                  {live.cable === true && live.presence === "none" ? (
                    <NothingSeen {...(live.hands ? { hands: live.hands } : {})} />
                  ) : (
                    <p className="text-sm">{whyNobodys(live)}</p>
                  )}
                  {/* it stays while the board is read out: what is typed is not lost */}
                  {mayWork && live.presence === "console" && live.chipId !== undefined && live.mark !== "call" && (
                    <div className="mt-2">{whose}</div>
                  )}
                </>
              ) : mayWork ? (
                <OrderRelease
                  no={no}
                  aircraftId={live.aircraftId}
                  board={[live.presence, live.chipId, live.family, live.release, live.target].join(" ")}
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
                  [
                    "Chip id",
                    live.chipId === undefined
                      ? "not said"
                      : `${live.chipId}${live.loaderId === undefined ? "" : ", by the register"}`,
                  ],
                  ...(live.loaderId === undefined ? [] : [["Loader id", live.loaderId] as const]),
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
