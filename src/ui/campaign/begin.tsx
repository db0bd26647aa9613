"use client";

import { useRouter } from "next/navigation";
import { useState } from "react";
import { useAsk } from "@/ui/base/ask";
import { DisclosedForm } from "@/ui/base/disclosed-form";
import { FIELD_LOOK } from "@/ui/base/parts";
import { SCOPE_KINDS, SCOPE_SAYS, type ScopeKind } from "@/core/carryover/scope";

const FIELD = `${FIELD_LOOK.plain} mt-1 block w-full`;
/** What needs a choice of its own for each aircraft is ordered for each by itself. */
const SCOPES = SCOPE_KINDS.filter((kind) => kind !== "chosen");

/** Begins a campaign: for which type, and to where. */
export function BeginCampaign({
  type: asked,
  types,
  releases,
}: {
  readonly type: string | undefined;
  readonly types: readonly { readonly type: string; readonly hasStandard: boolean }[];
  readonly releases: readonly { readonly id: string; readonly title: string }[];
}) {
  const router = useRouter();
  const asking = useAsk();
  const [type, setType] = useState(asked ?? types[0]?.type ?? "");
  const [goal, setGoal] = useState(asked === undefined ? (releases[0]?.id ?? "") : "standard");
  const [scope, setScope] = useState<ScopeKind>("everything");
  const [note, setNote] = useState("");
  const hasStandard = types.some((each) => each.type === type && each.hasStandard);
  return (
    <DisclosedForm
      opens="Begin a campaign"
      does="Begin it"
      disabled={types.length === 0}
      asking={asking}
      onSubmit={async () => {
        const what = goal === "standard" ? { goal } : { goal: "update", releaseId: goal, scope: { kind: scope } };
        const made = await asking.ask<{ id: number }>("/api/campaigns", { type, note, ...what });
        if (made) router.push(`/campaigns/${made.id}`);
        return made;
      }}
    >
      <label>
        For every
        <select aria-label="For every" className={FIELD} value={type} onChange={(event) => setType(event.target.value)}>
          {types.map((each) => (
            <option key={each.type}>{each.type}</option>
          ))}
        </select>
      </label>
      <label>
        To
        <select aria-label="To" className={FIELD} value={goal} onChange={(event) => setGoal(event.target.value)}>
          {hasStandard && <option value="standard">its type’s standard, on the release that it runs</option>}
          {releases.map(({ id, title }) => (
            <option key={id} value={id}>
              {title}
            </option>
          ))}
        </select>
      </label>
      {goal !== "standard" && (
        <label>
          What comes along
          <select
            aria-label="What comes along"
            className={FIELD}
            value={scope}
            onChange={(event) => setScope(event.target.value as ScopeKind)}
          >
            {SCOPES.map((kind) => (
              <option key={kind} value={kind}>
                {SCOPE_SAYS[kind]}
              </option>
            ))}
          </select>
        </label>
      )}
      <label>
        What it is for
        <input className={FIELD} maxLength={400} value={note} onChange={(event) => setNote(event.target.value)} />
      </label>
    </DisclosedForm>
  );
}
