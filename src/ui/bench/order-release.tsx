"use client";

import { Link } from "@/ui/base/link";
import { useEffect, useState } from "react";
import { send } from "@/ui/base/ask";
import { useOrder } from "@/ui/bench/use-order";
import { StateShape } from "@/ui/base/mark";
import { EVERYTHING, type Scope } from "@/core/carryover/scope";
import { ProblemNote } from "@/ui/base/parts";
import { ScopeChoice, scopeFor } from "@/ui/bench/scope-choice";
import { nearSentence } from "@/ui/boards/sentences";
import { Press } from "@/ui/base/press";
import { OneOf } from "@/ui/base/one-of";
import { TextBox } from "@/ui/base/text-box";
import type { ReleaseChoice, ReleaseChoices, WayBack } from "@/contracts/answers/choices";

const RELATION: Readonly<Record<ReleaseChoice["relation"], string>> = {
  next: "next release",
  later: "later release",
  fork: "another branch",
  older: "older release",
  "other-family": "no common ancestor",
  same: "runs now; would be written again",
};

const count = (n: number, one: string, many: string) => `${n} ${n === 1 ? one : many}`;

/** “2 silent changes · 1 thing cannot be there · can go back”: what a release would mean for this board. */
function meaning({ silent, blocked, lost, noWayBack, relation }: ReleaseChoice): string {
  const parts = [
    silent > 0 ? count(silent, "silent change", "silent changes") : "no silent change",
    blocked > 0 ? count(blocked, "thing cannot be there", "things cannot be there") : "",
    lost > 0 ? `${count(lost, "value", "values")} set by hand would be lost` : "",
    relation === "same" ? "" : noWayBack === undefined ? "can go back" : `no way back: ${noWayBack}`,
  ];
  return parts.filter(Boolean).join(" · ");
}

/** Asked while the board is there; what was found stays while it restarts, and is asked again when it is back. */
function useChoices(no: number, board: string, seen: boolean) {
  const [loaded, setLoaded] = useState<ReleaseChoices & { board: string }>();
  useEffect(() => {
    if (!seen) return undefined;
    let gone = false;
    void send<ReleaseChoices>(`/api/bench/${no}/releases`, undefined, "GET").then((answer) => {
      if (!gone)
        setLoaded({
          board,
          ...(answer.ok
            ? answer.value
            : { goal: "update", basis: "", backedUp: false, choices: [], lack: answer.problem.message }),
        });
    });
    return () => {
      gone = true;
    };
  }, [no, board, seen]);
  return loaded?.board === board ? loaded : undefined;
}

/** Every release that is built for the board in the bay, the nearest first, each with its path and what it would mean. */
export function OrderRelease({
  no,
  aircraftId,
  tag,
  board,
  seen,
}: {
  readonly no: number;
  readonly aircraftId: number;
  readonly tag: string;
  readonly board: string;
  /** The board is there this moment; it may be restarting. */
  readonly seen: boolean;
}) {
  const { order, busy, problem } = useOrder();
  const loaded = useChoices(no, board, seen);
  const [chosen, setChosen] = useState<string>();
  const [reason, setReason] = useState("");
  const [wanted, setWanted] = useState<Scope>();
  if (!loaded) return <p className="text-sm text-faded">Looking at the releases that are built for it.</p>;
  const { goal } = loaded;
  const possible = loaded.choices.filter((choice) => choice.image && !choice.instead);
  const releaseId = chosen ?? possible[0]?.id;
  const offer = loaded.choices.find((choice) => choice.id === releaseId);
  const instead = offer?.instead;
  const scope = offer && scopeFor(wanted ?? loaded.lastScope ?? EVERYTHING, offer);
  if (loaded.choices.length === 0)
    return (
      <p className="text-sm text-faded">
        {loaded.lack ?? "No release in the workshop is built for this board’s target."}
      </p>
    );
  return (
    <div className="grid gap-2">
      {loaded.campaign && (
        <section aria-label="Campaign" className="mb-1 border border-water bg-water-wash px-3.5 py-2.5">
          <p className="text-sm">
            <Link href={`/campaigns/${loaded.campaign.id}`}>{loaded.campaign.title}</Link>:{" "}
            {loaded.campaign.turn === 1
              ? `${tag} is next`
              : `${tag} is number ${loaded.campaign.turn} of ${loaded.campaign.waiting} that wait`}
            .
          </p>
          <Press
            look="main"
            className="mt-1.5"
            busy={busy}
            onClick={() => {
              const campaignId = loaded.campaign?.id ?? 0;
              void order({ bayNo: no, aircraftId, goal: { kind: "campaign", campaignId } });
            }}
          >
            Order its job of the campaign
          </Press>
        </section>
      )}
      {goal === "revive" && (
        <p className="text-sm">
          It shows only its loader: what it holds does not start. Through the loader a release can be written to it;
          then it is set up as it was backed up last. If its boot button was held by mistake, plug it in again without
          it.
        </p>
      )}
      {loaded.rights && (
        <p className="border border-straw bg-straw-wash px-3.5 py-2.5 text-sm" role="note">
          The firmware on it is that of <b>{loaded.rights.says}</b>; its model takes <b>{loaded.rights.takes}</b>. What
          is ordered here writes the firmware of {loaded.rights.takes}, and its settings go over to it.
        </p>
      )}
      {goal === "commission" && (
        <p className="text-sm">
          Nothing was ever read out of this board. A release is written to it, then it is set up as its type is meant to
          be; what belongs to one board or airframe, such as calibration, is asked for afterwards.
        </p>
      )}
      <OneOf
        label="Release"
        heard
        className="grid max-h-80 gap-px overflow-y-auto border border-rule bg-rule"
        row={({ disabled }, chosen) =>
          `px-2.5 py-1.5 ${chosen ? "bg-water-wash" : disabled ? "bg-sheet" : "bg-sheet hover:bg-paper"}`
        }
        value={releaseId}
        choices={loaded.choices.map((choice) => ({
          value: choice.id,
          disabled: !choice.image,
          says: (
            <>
              <b>{choice.title}</b>
              <span className="text-sm">
                {" "}
                {choice.standing === "stable" ? "" : `${choice.standing}, `}
                {loaded.rights && choice.relation === "same"
                  ? "the same release, for its own target"
                  : goal !== "update" && loaded.backedUp && choice.relation === "same"
                    ? goal === "revive"
                      ? "as it was backed up last"
                      : "as its type flies"
                    : goal !== "update" && choice.relation === "same"
                      ? "on its defaults"
                      : RELATION[choice.relation]}
              </span>
              <span className="block text-[13px] text-faded">
                {choice.blocked > 0 || choice.instead ? (
                  <StateShape shape="square" />
                ) : choice.silent > 0 ? (
                  <StateShape shape="triangle" />
                ) : null}{" "}
                {choice.instead ? `not built for ${choice.instead.own}; nearest is ${choice.instead.target} · ` : ""}
                {choice.path === undefined ? "" : `${choice.path} · `}
                {choice.image ? meaning(choice) : "no image of it for this target is in the workshop"}
              </span>
            </>
          ),
        }))}
        onValue={setChosen}
      />
      <p className="text-sm text-faded">The counts above go {loaded.basis}.</p>
      {instead && (
        <Instead instead={instead} releaseId={releaseId ?? ""} tag={tag} reason={reason} onReason={setReason} />
      )}
      {offer && scope && (
        <ScopeChoice
          scope={scope}
          offer={offer}
          remembered={wanted === undefined && loaded.lastScope !== undefined}
          onScope={setWanted}
        />
      )}
      <div className="flex flex-wrap items-center gap-x-3 gap-y-1">
        <Press
          look="main"
          busy={busy}
          disabled={releaseId === undefined || (instead !== undefined && reason.trim() === "")}
          onClick={() => {
            const other = instead ? { instead: { target: instead.target, reason } } : {};
            const wish = {
              ...{ kind: goal, releaseId: releaseId ?? "", ...other },
              ...(loaded.rights ? { asModel: true } : {}),
            };
            void order({ bayNo: no, aircraftId, goal: wish, ...(scope ? { scope } : {}) });
          }}
        >
          {goal === "revive" ? "Order revival" : goal === "commission" ? "Order commissioning" : "Order this job"}
        </Press>
        <span className="text-sm text-faded">Nothing starts yet: the card shows every step first.</span>
      </div>
      {problem && <ProblemNote problem={problem} />}
      {loaded.wayBack && (
        <BackAgain
          way={loaded.wayBack}
          busy={busy}
          onOrder={({ backupId, releaseId: before }) => {
            const wish = { kind: "set-up", backupId, releaseId: before, parts: {} } as const;
            void order({ bayNo: no, aircraftId, goal: wish });
          }}
        />
      )}
    </div>
  );
}

/** The pair of the older image and the board's own backup, in one click, with what does not come back. */
function BackAgain({
  way,
  busy,
  onOrder,
}: {
  readonly way: WayBack;
  readonly busy: boolean;
  readonly onOrder: (way: WayBack) => void;
}) {
  const { backupId, name, title, differs } = way;
  return (
    <section aria-label="The way back" className="mt-1 border-t border-rule pt-3">
      <p className="text-sm">
        It came from <b>{title}</b>, and its image and the board’s own backup of then are here:{" "}
        <Link href={`/backups/${backupId}`}>{name}</Link>.{" "}
        {differs === undefined
          ? ""
          : differs === 0
            ? "Nothing has changed since."
            : `Changes made since are lost: ${count(differs, "place stands", "places stand")} otherwise now.`}
      </p>
      <Press className="mt-1.5" busy={busy} onClick={() => onOrder(way)}>
        Back to {title} as it was
      </Press>
    </section>
  );
}

/** What another target than the board's own would break, and why it is taken all the same. */
function Instead({
  instead: { target, own, near },
  releaseId,
  tag,
  reason,
  onReason,
}: {
  readonly instead: NonNullable<ReleaseChoice["instead"]>;
  readonly releaseId: string;
  readonly tag: string;
  readonly reason: string;
  readonly onReason: (reason: string) => void;
}) {
  const query = new URLSearchParams({ here: own, release: releaseId, there: target, aircraft: tag });
  return (
    <div className="grid gap-2 border border-straw bg-straw-wash px-3.5 py-2.5 text-sm">
      <p>
        <b>
          This would write the firmware of {target} to a board that takes {own}.
        </b>{" "}
        {nearSentence(near, true)} <Link href={`/boards/targets?${query.toString()}`}>See pad by pad</Link>
      </p>
      {near.pads.length > 0 && (
        <ul className="grid gap-0.5">
          {near.pads.map(({ pad, here, there, uses }) => (
            <li key={pad}>
              <span className="key font-semibold">{pad}</span>: {here || "not served"}, there {there || "not served"}
              {uses === "" ? "" : `: ${uses} would not work as wired`}
            </li>
          ))}
        </ul>
      )}
      <TextBox
        label="Why it is done all the same; it stands in the job’s record"
        rows={2}
        maxLength={400}
        value={reason}
        onChange={(event) => onReason(event.target.value)}
      />
    </div>
  );
}
