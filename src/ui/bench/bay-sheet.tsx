"use client";

import { Link } from "@/ui/base/link";
import { EMPTY_BAY, type BayLive } from "@/core/job/live";
import { AskButton } from "@/ui/base/ask";
import { Mark } from "@/ui/base/mark";
import { BUTTON_LOOK, Facts, LinkButton, Plate, Sheet } from "@/ui/base/parts";
import { FaultSwitches, Hands, Pace, Shelf, type Shelved } from "@/ui/bench/hands";
import type { PortSeen } from "@/contracts/answers/live";
import { SocketChoice } from "@/ui/bench/socket-choice";
import { Trouble } from "@/ui/bench/trouble";
import { useBay } from "@/ui/bench/live";
import { BackToBaseline } from "@/ui/bench/order-baseline";
import { BackUp } from "@/ui/bench/back-up";
import { useOfBay } from "@/ui/bench/use-of-bay";
import { OrderAbility } from "@/ui/parts/order-ability";
import { OrderParts } from "@/ui/parts/order-parts";
import { OrderRelease } from "@/ui/bench/order-release";
import type { ModelChoice } from "@/ui/bench/models-like";
import { isSeen, useSteady } from "@/ui/bench/steady";
import { WhoseIsIt } from "@/ui/bench/whose";
import { Folded } from "@/ui/base/folded";

interface BaySheetProps {
  readonly no: number;
  /** The bays of its bench. */
  readonly bays: readonly number[];
  /** Serial ports of the bench's machine. */
  readonly ports: readonly PortSeen[];
  readonly shelf: readonly Shelved[];
  readonly models: readonly ModelChoice[];
  /** Tags of aircraft that have no board yet. */
  readonly boardless: readonly string[];
  readonly types: readonly string[];
  readonly factor: number;
  readonly mayWork: boolean;
}

/** Why the board in a bay is matched to no aircraft. */
function whyNobodys({ presence, mark, chipId, loaderId, line }: BayLive): string {
  if (presence === "none" && line) return "It is asked in every way that the workshop knows: a moment.";
  if (presence === "none") return "Plug it in: it is identified by its console and its chip id.";
  if (presence === "loader")
    return mark === "call"
      ? `Several boards of the register can have the loader id ${loaderId ?? ""}. Plug it in without its boot button, so that it can say who it is.`
      : `No board of the register can have the loader id ${loaderId ?? ""}. If it has firmware, plug it in without its boot button, so that it can say who it is; if it was never set up, say whose it becomes.`;
  if (mark === "call") return "A chip id that is not unique does not say whose it is.";
  return chipId === undefined
    ? "It has not said who it is."
    : "No aircraft in the register owns this chip id. Whose is it?";
}

/** One bay: what is in it, what is known of it, what can be done with it. */
export function BaySheet({ no, bays, ports, shelf, models, boardless, types, factor, mayWork }: BaySheetProps) {
  const now = useBay(no) ?? EMPTY_BAY;
  const live = useSteady(now);
  const { line } = live;
  const board = { no, board: [live.chipId, live.family, live.release].join(" "), seen: isSeen(now) };
  const speaks = live.presence === "console" && live.job === undefined && live.aircraftId !== undefined;
  const parts = useOfBay(no, "parts", board.board, board.seen && speaks && mayWork);
  const inBay = live.simBoardId !== undefined || line !== undefined;
  const hasTrouble =
    live.restarts === true ||
    live.gyro === "silent" ||
    (live.presence === "none" && (line ? line.state !== "asked" : live.cable === true));
  const whose = (
    <WhoseIsIt
      key={live.chipId ?? live.loaderId ?? ""}
      no={no}
      owned={live.tag !== undefined}
      boardName={live.boardName}
      target={live.target}
      processor={live.processor}
      usb={live.presence === "console" ? live.usb : undefined}
      models={models}
      boardless={boardless}
      types={types}
    />
  );
  // a board that a job holds is not asked beside it
  const fact = (what: string, value: string | undefined): [string, string][] =>
    value === undefined && live.job !== undefined ? [] : [[what, value ?? "not known"]];
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
            {[
              // it stands where a tag would, while there is none
              ...(live.tag === undefined ? [] : [`Bay ${no}`]),
              ...(live.simLabel === undefined ? [] : [live.simLabel]),
              ...(line ? [`serial port ${line.path}`] : []),
            ].join(" · ")}
          </p>
        </div>
        <nav aria-label="Bays" className="ml-auto flex gap-1">
          {bays.map((other) => (
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
                <BackUp no={no} aircraftId={live.aircraftId} parts={parts} filed={live.filed} />
              )}
              {live.job ? null : live.aircraftId === undefined ? (
                <>
                  {hasTrouble ? (
                    <Trouble key={`${live.simBoardId ?? 0} ${line?.path ?? ""}`} live={live} />
                  ) : (
                    <p className="text-sm">{whyNobodys(live)}</p>
                  )}
                  {/* it stays while the board is read out: what is typed is not lost */}
                  {mayWork && (live.chipId ?? live.loaderId) !== undefined && live.mark !== "call" && (
                    <div className="mt-2">{whose}</div>
                  )}
                </>
              ) : mayWork ? (
                <>
                  {live.gyro === "silent" && (
                    <div className="mb-4">
                      <Trouble live={live} />
                    </div>
                  )}
                  {line && (
                    <p className="mb-3 text-sm">
                      Backups, restores and checks go over this port. What writes firmware wants the board’s loader on
                      this machine as well: its USB loader on the same cable, or its serial loader on the port of an
                      adapter. A drive loader is not reached here.
                    </p>
                  )}
                  <OrderRelease
                    no={no}
                    aircraftId={live.aircraftId}
                    tag={live.tag ?? ""}
                    board={[live.presence, live.chipId, live.family, live.release, live.target].join(" ")}
                    seen={isSeen(now)}
                  />
                  {live.presence === "console" && <OrderParts no={no} aircraftId={live.aircraftId} parts={parts} />}
                  {live.presence === "console" && <OrderAbility {...board} aircraftId={live.aircraftId} />}
                  {live.presence === "console" && (
                    <BackToBaseline
                      key={live.chipId}
                      no={no}
                      aircraftId={live.aircraftId}
                      tag={live.tag ?? ""}
                      seen={isSeen(now)}
                    />
                  )}
                </>
              ) : (
                <p className="text-sm">You can view. A technician orders jobs.</p>
              )}
            </Sheet>
          )}
          {mayWork && !line && (
            <Sheet label="Your hands" className="px-4 py-3.5">
              <h2>Your hands</h2>
              <p className="mt-0.5 mb-3 text-sm text-faded">
                Boards in this workshop are simulated; these are the hands that a person would lay on them.
              </p>
              {inBay ? <Hands no={no} live={live} /> : <Shelf no={no} boards={shelf} />}
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
                  ...fact("Seen as", live.seenAs),
                  ["On", [live.port, live.usb].filter(Boolean).join(", ")],
                  ...fact("Board", live.boardName),
                  ...fact(
                    "Firmware",
                    live.family &&
                      `${live.family} ${live.release ?? ""} of ${live.builtOn ?? "a day that is not known"}`,
                  ),
                  ...fact("Target", live.target),
                  ...fact("Chip id", live.chipId && `${live.chipId}${live.loaderId ? ", by the register" : ""}`),
                  ...(live.loaderId === undefined ? [] : [["Loader id", live.loaderId] as const]),
                  ...fact("Settings", live.kept),
                  [
                    "Aircraft",
                    live.tag === undefined
                      ? "not matched"
                      : `${live.tag}${live.matchedBy === undefined ? "" : `, by ${live.matchedBy}`}`,
                  ],
                ]}
              />
            )}
            {live.job !== undefined && live.family === undefined && live.presence === "console" && (
              <p className="mt-2.5 text-sm text-faded">
                The bench has begun again since this job did. What the job knows of the board stands on its card.
              </p>
            )}
            {inBay && (
              <p className="mt-2.5 text-sm">
                <Link href={`/boards/which?bay=${no}`} className="inline-flex min-h-6 items-center">
                  Which target does it take?
                </Link>
              </p>
            )}
            {mayWork && live.presence === "console" && live.tag !== undefined && live.job === undefined && (
              <Folded className="mt-3 border-t border-rule pt-2 text-sm" look="link" head="Move it to another aircraft">
                <div className="mt-2">{whose}</div>
              </Folded>
            )}
          </Sheet>
          {mayWork && live.job === undefined && (line !== undefined || !inBay) && (
            <SocketChoice no={no} ports={ports} line={line} />
          )}
          {mayWork && !line && (
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
