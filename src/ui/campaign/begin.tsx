"use client";

import { useRouter } from "next/navigation";
import { useState } from "react";
import { useAsk } from "@/ui/base/ask";
import { DisclosedForm } from "@/ui/base/disclosed-form";
import { SCOPE_KINDS, SCOPE_SAYS, type ScopeKind } from "@/core/carryover/scope";
import { Select } from "@/ui/base/select";
import { Field } from "@/ui/base/field";

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
  /** `part`: what kind of part behind the board it is for; absent: the board itself. */
  readonly releases: readonly { readonly id: string; readonly title: string; readonly part?: string }[];
}) {
  const router = useRouter();
  const asking = useAsk();
  const [type, setType] = useState(asked ?? types[0]?.type ?? "");
  const [goal, setGoal] = useState(asked === undefined ? (releases[0]?.id ?? "") : "standard");
  const [scope, setScope] = useState<ScopeKind>("everything");
  const [note, setNote] = useState("");
  const isPart = releases.some(({ id, part }) => id === goal && part !== undefined);
  const hasStandard = types.some((each) => each.type === type && each.hasStandard);
  return (
    <DisclosedForm
      opens="Begin a campaign"
      does="Begin it"
      disabled={types.length === 0}
      wide
      asking={asking}
      onSubmit={async () => {
        const what =
          goal === "standard"
            ? { goal }
            : isPart
              ? { goal: "parts", releaseId: goal }
              : { goal: "update", releaseId: goal, scope: { kind: scope } };
        const made = await asking.ask<{ id: number }>("/api/campaigns", { type, note, ...what });
        if (made) router.push(`/campaigns/${made.id}`);
        return made;
      }}
    >
      <Select
        label="For every"
        look="wide"
        value={type}
        options={types.map((each) => ({ value: each.type, text: each.type }))}
        onValue={setType}
      />
      <Select
        label="To"
        look="wide"
        value={goal}
        options={[
          ...(hasStandard ? [{ value: "standard", text: "its type’s standard, on the release that it runs" }] : []),
          ...releases.map(({ id, title, part }) => ({
            value: id,
            text: title,
            ...(part === undefined ? {} : { group: `For the ${part} behind each board` }),
          })),
        ]}
        onValue={setGoal}
      />
      {goal !== "standard" && !isPart && (
        <Select
          label="What comes along"
          look="wide"
          value={scope}
          options={SCOPES.map((kind) => ({ value: kind, text: SCOPE_SAYS[kind] }))}
          onValue={(next) => setScope(SCOPES.find((kind) => kind === next) ?? "everything")}
        />
      )}
      <Field label="What it is for" maxLength={400} value={note} onChange={(event) => setNote(event.target.value)} />
    </DisclosedForm>
  );
}
