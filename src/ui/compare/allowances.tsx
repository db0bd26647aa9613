"use client";

import { ReasonField } from "@/ui/base/reason-field";
import { useState } from "react";
import { withAreas } from "@/core/config";
import { AskButton, useAsk } from "@/ui/base/ask";
import { DisclosedForm } from "@/ui/base/disclosed-form";
import { Select } from "@/ui/base/select";

export interface AllowanceView {
  readonly id: number;
  /** “tune”, “Return height (return.height)”. */
  readonly what: string;
  readonly tag?: string;
  readonly reason: string;
  readonly account: string;
  readonly when: string;
  /** How many differences it lets be now. */
  readonly count: number;
}

/** What may differ from the standard, with who allowed it and why; the drift does not speak of it. */
export function Allowances({
  allowances,
  isLead,
}: {
  readonly allowances: readonly AllowanceView[];
  readonly isLead: boolean;
}) {
  if (allowances.length === 0) return null;
  return (
    <section aria-label="Allowed differences" className="mt-3 border-t border-rule pt-2">
      <h2 className="mb-1 text-[15px]">What may differ</h2>
      <ul className="grid gap-1.5 text-sm">
        {allowances.map(({ id, what, tag, reason, account, when, count }) => (
          <li key={id} className="flex flex-wrap items-center gap-x-3 gap-y-1">
            <span className="min-w-0">
              <b>{what}</b>
              {tag === undefined ? "" : ` on ${tag}`}: {reason}{" "}
              <span className="text-faded">
                {account}, {when}; {count === 0 ? "nothing differs there now" : `lets ${count} be`}
              </span>
            </span>
            {isLead && (
              <AskButton path="/api/standards/allowances" body={{ end: id }}>
                No longer
              </AskButton>
            )}
          </li>
        ))}
      </ul>
    </section>
  );
}

/** A lead lets a difference be: of an area or of one place, on all of the type or on one of them. */
export function AllowDifference({
  type,
  places,
  areas: own,
  tags,
}: {
  readonly type: string;
  /** Areas of its release besides those that every workshop has. */
  readonly areas: readonly string[];
  /** What differs now. */
  readonly places: readonly { readonly id: string; readonly title: string }[];
  readonly tags: readonly string[];
}) {
  const asking = useAsk();
  const areas = withAreas(own);
  const [what, setWhat] = useState(places[0] ? `place ${places[0].id}` : `area ${areas[0] ?? ""}`);
  const [tag, setTag] = useState("");
  const [reason, setReason] = useState("");
  return (
    <DisclosedForm
      opens="Allow a difference"
      does="Allow it"
      asking={asking}
      onSubmit={() =>
        asking.ask("/api/standards/allowances", {
          type,
          kind: what.slice(0, what.indexOf(" ")),
          name: what.slice(what.indexOf(" ") + 1),
          ...(tag === "" ? {} : { tag }),
          reason,
        })
      }
    >
      <Select
        label="What may differ"
        look="wide"
        value={what}
        options={[
          ...places.map(({ id, title }) => ({ value: `place ${id}`, text: title, group: "What differs now" })),
          ...areas.map((area) => ({ value: `area ${area}`, text: area, group: "A whole area" })),
        ]}
        onValue={setWhat}
      />
      <Select
        label="On"
        look="wide"
        value={tag}
        none={`every ${type}`}
        options={tags.map((each) => ({ value: each, text: each }))}
        onValue={setTag}
      />
      <ReasonField label="Why" required value={reason} onReason={setReason} />
    </DisclosedForm>
  );
}
