"use client";

import { isReason, ReasonField } from "@/ui/base/reason-field";
import { Link } from "@/ui/base/link";
import { useEffect, useState } from "react";
import type { Parts } from "@/core/carryover/baseline";
import { EVERYTHING, type Scope } from "@/core/carryover/scope";
import { send } from "@/ui/base/ask";
import { StateShape } from "@/ui/base/mark";
import { ProblemNote, Sheet } from "@/ui/base/parts";
import { allFrom, changesOf, PartsTable } from "@/ui/bench/parts-table";
import { useOrder } from "@/ui/bench/use-order";
import type { GoalWish } from "@/contracts/job-wish";
import { ScopeChoice, scopeFor } from "@/ui/bench/scope-choice";
import type { Problem } from "@/core/problem";
import { counted } from "@/ui/base/words";
import { Press } from "@/ui/base/press";
import { Select } from "@/ui/base/select";
import { OneOf } from "@/ui/base/one-of";
import type { SetUpChoices } from "@/contracts/answers/choices";

/** A board that lies in a bay and is known. */
export interface KnownBoard {
  readonly bayNo: number;
  readonly tag: string;
}

type Loaded = { readonly key: string } & ({ readonly choices: SetUpChoices } | { readonly problem: Problem });

function useChoices(bayNo: number | undefined, backupId: number): Loaded | undefined {
  const [loaded, setLoaded] = useState<Loaded>();
  const key = `${bayNo ?? 0} ${backupId}`;
  useEffect(() => {
    let gone = false;
    if (bayNo !== undefined)
      void send<SetUpChoices>(`/api/bench/${bayNo}/set-up?backup=${backupId}`, undefined, "GET").then((answer) => {
        if (!gone) setLoaded({ key, ...(answer.ok ? { choices: answer.value } : { problem: answer.problem }) });
      });
    return () => {
      gone = true;
    };
  }, [bayNo, backupId, key]);
  return loaded?.key === key ? loaded : undefined;
}

/** Sets a board up as a backup says: its own board again, the one that came after it, or another aircraft’s. */
export function SetUpAs({
  backupId,
  tag,
  boards,
}: {
  readonly backupId: number;
  /** Whose it is; none of a merged one. */
  readonly tag: string | undefined;
  readonly boards: readonly KnownBoard[];
}) {
  const own = boards.find((board) => board.tag === tag);
  const [picked, setPicked] = useState<number>();
  const bayNo = picked ?? own?.bayNo ?? boards[0]?.bayNo;
  const loaded = useChoices(bayNo, backupId);
  return (
    <Sheet label="Restore to a board" className="max-w-3xl px-4 py-3.5">
      {tag !== undefined && !own && (
        <p className="mb-2 text-sm">
          The board of {tag} is in no bay, or a job has it. Put it into a <Link href="/bench/1">bay</Link> and plug it
          in to set it up again.
        </p>
      )}
      {boards.length > 0 && (
        <div className="grid gap-3">
          <Select
            label="Which board"
            value={String(bayNo)}
            options={boards.map((board) => ({
              value: String(board.bayNo),
              text: `${board.tag} in bay ${board.bayNo}${board.tag === tag ? ", its own" : ""}`,
            }))}
            onValue={(next) => setPicked(Number(next))}
          />
          {!loaded && <p className="text-faded">Looking at what it would mean.</p>}
          {loaded && "problem" in loaded && <ProblemNote problem={loaded.problem} />}
          {loaded && "choices" in loaded && (
            <Order key={loaded.key} choices={loaded.choices} bayNo={bayNo ?? 0} backupId={backupId} />
          )}
        </div>
      )}
    </Sheet>
  );
}

const WHOSE: Readonly<Record<SetUpChoices["whose"], string>> = {
  "this-board": "It was taken of this board: all of it can go back.",
  "this-aircraft":
    "It was taken of the board that the aircraft had before: what was measured on that one, such as calibration, stays as this board has it.",
  another:
    "It was taken of another aircraft: calibration, wiring and the name stay this one’s own, unless an area is chosen to come along.",
};

function Order({
  choices: { aircraftId, tag, whose, commissions, ways, lacks },
  bayNo,
  backupId,
}: {
  readonly choices: SetUpChoices;
  readonly bayNo: number;
  readonly backupId: number;
}) {
  const { order, busy, problem } = useOrder();
  const [chosen, setChosen] = useState<string>();
  const [scope, setScope] = useState<Scope>(EVERYTHING);
  const [picked, setPicked] = useState<Parts>();
  const [reason, setReason] = useState("");
  const way = ways.find(({ releaseId }) => releaseId === chosen) ?? ways.find(({ lack }) => lack === undefined);
  const parts = picked ?? way?.parts ?? {};
  const confirm = () => {
    const although = lacks.length === 0 ? {} : { although: reason };
    const isOwn = whose === "this-board";
    const goal: GoalWish = commissions
      ? { kind: "commission", backupId, releaseId: way?.releaseId ?? "", ...although }
      : {
          ...{ kind: "set-up", backupId, parts: isOwn ? {} : parts, ...although },
          ...(way && !way.runs ? { releaseId: way.releaseId } : {}),
        };
    void order({ bayNo, aircraftId, goal, ...(isOwn || commissions ? { scope } : {}) });
  };
  return (
    <>
      <p>{WHOSE[whose]}</p>
      <OneOf
        label="On which release"
        value={way?.releaseId}
        choices={ways.map((each) => ({
          value: each.releaseId,
          disabled: each.lack !== undefined,
          says: (
            <>
              <b>{each.title}</b>,{" "}
              {each.lack ??
                [
                  each.runs
                    ? "which runs on it; the firmware is not touched"
                    : "which it was taken on, and which is written first",
                  each.lost > 0 ? `${counted(each.lost, "value")} would be lost` : "",
                  each.decisions > 0 ? counted(each.decisions, "decision") : "",
                ]
                  .filter(Boolean)
                  .join("; ")}
            </>
          ),
        }))}
        onValue={(releaseId) => {
          setChosen(releaseId);
          setPicked(undefined);
        }}
      />
      {way && whose === "this-board" && (
        <>
          {way.differences && (
            <p>
              By its newest backup{" "}
              {counted(
                changesOf(way.differences, allFrom(way.differences, "baseline")),
                "value differs now",
                "values differ now",
              )}
              ; those later changes are lost.
            </p>
          )}
          <ScopeChoice scope={scopeFor(scope, way)} offer={way} remembered={false} onScope={setScope} />
        </>
      )}
      {way && whose !== "this-board" && !commissions && (
        <PartsTable differences={way.differences} parts={parts} theirs="All as in this backup" onParts={setPicked} />
      )}
      {lacks.length > 0 && (
        <div className="grid gap-1.5 border border-straw px-3 py-2">
          <p>
            <StateShape shape="triangle" /> This backup is not complete. What it does not say is decided value by value
            on the plan.
          </p>
          <ul className="list-disc pl-5">
            {lacks.map((lack) => (
              <li key={lack}>{lack}</li>
            ))}
          </ul>
          <ReasonField label="Why it is taken all the same" value={reason} onReason={setReason} />
        </div>
      )}
      <div>
        <Press
          look="main"
          busy={busy}
          disabled={way === undefined || (lacks.length > 0 && !isReason(reason))}
          onClick={confirm}
        >
          Order it for {tag} in bay {bayNo}
        </Press>
        <p className="mt-1 text-faded">Nothing starts yet: the card shows every step first.</p>
      </div>
      {problem && <ProblemNote problem={problem} />}
    </>
  );
}
