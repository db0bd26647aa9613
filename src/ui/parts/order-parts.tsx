"use client";

import { useState } from "react";
import type { PartChoices } from "@/contracts/answers/parts";
import type { PartName } from "@/core/part";
import { StateShape } from "@/ui/base/mark";
import { ProblemNote } from "@/ui/base/parts";
import { Press } from "@/ui/base/press";
import { Select } from "@/ui/base/select";
import { Table } from "@/ui/base/table";
import { Detours } from "@/ui/parts/detours";
import type { SeenBoard } from "@/ui/bench/seen-board";
import { useOrder } from "@/ui/bench/use-order";

/** What is behind the board in a bay: read out together, or brought to another release, all at once or one by one. */
export function OrderParts({
  no,
  aircraftId,
  parts: loaded,
}: Pick<SeenBoard, "no" | "aircraftId"> & { readonly parts: PartChoices | undefined }) {
  const { order, busy, problem } = useOrder();
  const [by, setBy] = useState("");
  const [setUpAs, setSetUpAs] = useState<Readonly<Record<PartName, string>>>({});
  const [chosen, setChosen] = useState<Readonly<Record<PartName, string>>>({});
  if (!loaded || loaded.parts.length === 0) return null;
  const kinds = Object.keys(loaded.releases);
  const detour = loaded.detours.find(({ releaseId }) => releaseId === by);
  const reached = loaded.parts.filter(({ kind }) =>
    detour ? detour.leads.includes(kind) : !loaded.shut.includes(kind),
  );
  const runs = Object.fromEntries(Object.entries(chosen).filter(([, id]) => id !== ""));
  const count = Object.keys(runs).length;
  // what is not written keeps what it holds
  const sources = Object.fromEntries(
    Object.entries(setUpAs).flatMap(([name, id]) => (id !== "" && name in runs ? [[name, Number(id)]] : [])),
  );
  const choose = (names: readonly PartName[], id: string) =>
    setChosen((now) => ({ ...now, ...Object.fromEntries(names.map((name) => [name, id])) }));
  return (
    <section aria-label="Behind the board" className="mt-4 grid gap-2 border-t border-rule pt-3">
      <h3>Behind the board</h3>
      <p className="text-sm">{loaded.sentence}</p>
      {loaded.shut.length > 0 && (
        <p className="text-sm">
          <StateShape shape="square" /> The firmware on it opens no line to the {loaded.shut.join(" and the ")}.
          {loaded.detours.length === 0 && " No release of the workshop that starts on this board does."}
        </p>
      )}
      {loaded.detours.length > 0 && (
        <Detours detours={loaded.detours} kinds={loaded.shut.join(" and the ")} value={by} onValue={setBy} />
      )}
      <Table
        label="Parts behind the board"
        rows={reached}
        keyOf={({ name }) => name}
        columns={[
          { head: "Part", names: true, cell: ({ title, place }) => `${title}, ${place}` },
          {
            head: "Runs",
            cell: ({ read, odd }) => (
              <>
                {odd.length > 0 && <StateShape shape="triangle" />} {read?.firmware ?? "not read yet"}
              </>
            ),
          },
          {
            head: "Is to run",
            cell: ({ name, kind, place }) => (
              <Select
                label={`Release for ${place}`}
                says="hidden"
                value={chosen[name] ?? ""}
                options={[
                  { value: "", text: "what it runs" },
                  ...(loaded.releases[kind] ?? []).map(({ id, title }) => ({ value: id, text: title })),
                ]}
                onValue={(id) => choose([name], id)}
              />
            ),
          },
          count > 0 && {
            head: "Set up as",
            cell: ({ name, kind, place }) =>
              name in runs && (
                <Select
                  label={`Settings for ${place}`}
                  says="hidden"
                  value={setUpAs[name] ?? ""}
                  options={[
                    { value: "", text: "what it holds" },
                    ...(loaded.sources[kind] ?? []).map(({ backupId, title }) => ({
                      value: String(backupId),
                      text: title,
                    })),
                  ]}
                  onValue={(id) => setSetUpAs((now) => ({ ...now, [name]: id }))}
                />
              ),
          },
        ]}
      />
      <div className="flex flex-wrap items-center gap-2">
        {kinds.flatMap((kind) => {
          const [newest] = loaded.releases[kind] ?? [];
          const names = reached.flatMap((each) => (each.kind === kind ? [each.name] : []));
          return newest && names.length > 1
            ? [
                <Press key={kind} onClick={() => choose(names, newest.id)}>
                  All to {newest.title}
                </Press>,
              ]
            : [];
        })}
        <Press
          look={count > 0 ? "main" : "plain"}
          busy={busy}
          disabled={reached.length === 0}
          onClick={() =>
            void order({
              bayNo: no,
              aircraftId,
              goal: { kind: "parts", runs, sources, ...(detour ? { detour: by } : {}) },
            })
          }
        >
          {count === 0 ? "Read them all out" : `Order this for ${count} ${count === 1 ? "part" : "parts"}`}
        </Press>
        <span className="text-sm text-faded">All are read out first, the board with them.</span>
      </div>
      {problem && <ProblemNote problem={problem} />}
    </section>
  );
}
