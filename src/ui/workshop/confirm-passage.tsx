"use client";

import { useState } from "react";
import { ruleSentence } from "@/core/catalog/rules";
import type { ProposedRule } from "@/core/learn";
import { Table } from "@/ui/base/table";
import { useAsk } from "@/ui/base/ask";
import { ProblemNote, Sheet } from "@/ui/base/parts";
import { Press } from "@/ui/base/press";
import { Tick } from "@/ui/base/tick";

const SURE = 0.8;

/** Proposed rules, the surest first; a person confirms them one by one or in bulk. */
export function ConfirmPassage({
  from,
  to,
  rules,
  mayImport,
}: {
  readonly from: string;
  readonly to: string;
  readonly rules: readonly ProposedRule[];
  readonly mayImport: boolean;
}) {
  const [chosen, setChosen] = useState<ReadonlySet<number>>(new Set());
  const [kept, setKept] = useState("");
  const { ask, busy, problem } = useAsk();
  const toggle = (place: number) =>
    setChosen((old) => {
      const next = new Set(old);
      if (!next.delete(place)) next.add(place);
      return next;
    });
  return (
    <Sheet label="Proposed rules">
      <div className="flex flex-wrap items-center gap-2 px-4 py-3">
        <h2 className="mr-auto">
          {rules.length} proposed rules, {chosen.size} confirmed
        </h2>
        <Press onClick={() => setChosen(new Set(rules.flatMap((rule, i) => (rule.confidence >= SURE ? [i] : []))))}>
          Confirm all that are {SURE * 100} % sure
        </Press>
        {mayImport && (
          <Press
            look="main"
            busy={busy}
            disabled={chosen.size === 0}
            onClick={() =>
              void ask<{ version: number }>("/api/passages", {
                from,
                to,
                rules: [...chosen].toSorted((a, b) => a - b),
              }).then((made) => made && setKept(`Kept in version ${made.version} of the release's document.`))
            }
          >
            Keep the confirmed ones
          </Press>
        )}
      </div>
      <p role="status" className="px-4 text-sm">
        {kept}
      </p>
      {problem && <ProblemNote problem={problem} />}
      <div className="overflow-x-auto">
        <Table
          label="Proposed rules"
          rows={rules}
          keyOf={(_, i) => i}
          columns={[
            {
              head: <span className="sr-only">Confirm</span>,
              headLook: "w-10",
              cell: ({ rule }, i) => (
                <Tick
                  heard
                  label={`Confirm ${rule.rule} ${ruleSentence(rule)}`}
                  checked={chosen.has(i)}
                  onChecked={() => toggle(i)}
                />
              ),
            },
            { head: "Rule", cell: ({ rule }) => rule.rule },
            { head: "What it says", look: "key wrap-anywhere", cell: ({ rule }) => ruleSentence(rule) },
            {
              head: "Sure",
              counts: true,
              look: "whitespace-nowrap",
              cell: (each) => `${Math.round(each.confidence * 100)} %`,
            },
            { head: "Because", look: "text-sm text-faded", cell: ({ because }) => because.join("; ") },
          ]}
        />
      </div>
    </Sheet>
  );
}
