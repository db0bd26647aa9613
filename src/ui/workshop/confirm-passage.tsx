"use client";

import { useState } from "react";
import { ruleSentence } from "@/core/catalog/rules";
import type { ProposedRule } from "@/core/learn";
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
        <table aria-label="Proposed rules">
          <thead>
            <tr>
              <th className="w-10">
                <span className="sr-only">Confirm</span>
              </th>
              <th>Rule</th>
              <th>What it says</th>
              <th className="text-right">Sure</th>
              <th>Because</th>
            </tr>
          </thead>
          <tbody>
            {rules.map((proposed, i) => (
              <tr key={i}>
                <td>
                  <Tick
                    heard
                    label={`Confirm ${proposed.rule.rule} ${ruleSentence(proposed.rule)}`}
                    checked={chosen.has(i)}
                    onChecked={() => toggle(i)}
                  />
                </td>
                <td>{proposed.rule.rule}</td>
                <td className="key wrap-anywhere">{ruleSentence(proposed.rule)}</td>
                <td className="text-right whitespace-nowrap">{Math.round(proposed.confidence * 100)} %</td>
                <td className="text-sm text-faded">{proposed.because.join("; ")}</td>
              </tr>
            ))}
          </tbody>
        </table>
      </div>
    </Sheet>
  );
}
