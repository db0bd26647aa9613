"use client";

import { leavesUntuned, SCOPE_KINDS, SCOPE_SAYS, type Scope } from "@/core/carryover/scope";
import { withAreas } from "@/core/config";
import { useState } from "react";
import { Press } from "@/ui/base/press";
import { Select } from "@/ui/base/select";
import { Tick } from "@/ui/base/tick";
import { Field } from "@/ui/base/field";
import type { ScopeOffer } from "@/contracts/answers/choices";

/** A scope of an earlier job as a release can take it: a starter set that it does not have is left out. */
export function scopeFor({ starter, ...scope }: Scope, { starters }: ScopeOffer): Scope {
  return starter !== undefined && starters.some(({ name }) => name === starter) ? { ...scope, starter } : scope;
}

/** Which part of the settings comes along, what fills the rest, and what the product advises. */
export function ScopeChoice({
  scope,
  offer,
  remembered,
  onScope,
}: {
  readonly scope: Scope;
  readonly offer: ScopeOffer;
  /** It is what the last job of the type let come along. */
  readonly remembered: boolean;
  readonly onScope: (scope: Scope) => void;
}) {
  const { advice, starters } = offer;
  const { kind, starter, leave = [] } = scope;
  return (
    <div className="grid gap-2 border-t border-rule pt-2">
      <div className="flex flex-wrap items-end gap-x-4 gap-y-2">
        <Select
          label="What comes along"
          value={kind}
          options={SCOPE_KINDS.map((each) => ({ value: each, text: SCOPE_SAYS[each] }))}
          onValue={(next) =>
            onScope({
              ...(starter === undefined ? {} : { starter }),
              kind: SCOPE_KINDS.find((each) => each === next) ?? kind,
            })
          }
        />
        {kind !== "everything" && starters.length > 0 && (
          <Select
            label="What fills the rest"
            value={starter ?? ""}
            none="the release’s defaults"
            options={starters.map(({ name, airframe }) => ({ value: name, text: `${name}: ${airframe}` }))}
            onValue={(next) => {
              const rest = { kind, ...(scope.leave ? { leave: scope.leave } : {}) };
              onScope(next === "" ? rest : { ...rest, starter: next });
            }}
          />
        )}
      </div>
      <p className="text-[13px] text-faded">
        {remembered && "As on the last aircraft of its type. "}
        {advice.because}
        {advice.scope !== kind && advice.scope !== "everything" && (
          <Press
            look="bare"
            className="ml-1.5 min-h-6 text-water underline"
            onClick={() => onScope({ ...(starter === undefined ? {} : { starter }), kind: advice.scope })}
          >
            Leave tune and feel out
          </Press>
        )}
      </p>
      {kind === "chosen" && (
        <Leave offer={offer} leave={leave} onLeave={(names) => onScope({ ...scope, leave: names })} />
      )}
      {leavesUntuned(scope) && (
        <p className="border border-straw bg-straw-wash px-3.5 py-2.5 text-sm" role="note">
          No starter set and no tune: it would fly on plain defaults. After the job it stays out of service until
          somebody has tuned it.
        </p>
      )}
    </div>
  );
}

function Leave({
  offer: { profiles, areas: own },
  leave,
  onLeave,
}: {
  readonly offer: ScopeOffer;
  readonly leave: readonly string[];
  readonly onLeave: (names: readonly string[]) => void;
}) {
  const areas = withAreas(own.map(({ name }) => name));
  const offered = new Set<string>([
    ...areas,
    ...profiles.flatMap(({ kind, count }) => Array.from({ length: count }, (_, i) => `${kind} ${i + 1}`)),
  ]);
  const isOffered = (name: string) => offered.has(name);
  const [single, setSingle] = useState(leave.filter((name) => !isOffered(name)).join(", "));
  const toggle = (name: string) =>
    onLeave(leave.includes(name) ? leave.filter((each) => each !== name) : [...leave, name]);
  const box = (name: string, title: string) => (
    <Tick key={name} label={title} checked={leave.includes(name)} onChecked={() => toggle(name)} />
  );
  return (
    <div className="grid gap-2 text-sm" role="group" aria-label="What stays behind">
      <p className="text-faded">What stays behind:</p>
      <div className="flex flex-wrap gap-x-4 gap-y-1">{areas.map((area) => box(area, area))}</div>
      <Field
        label="Single settings, by their names in the new release, with commas between"
        value={single}
        maxLength={2000}
        onChange={(event) => {
          setSingle(event.target.value);
          const names = event.target.value.split(",").map((name) => name.trim());
          onLeave([...leave.filter(isOffered), ...names.filter((name) => name !== "" && !isOffered(name))]);
        }}
      />
      <div className="flex flex-wrap gap-x-4 gap-y-1">
        {profiles.flatMap(({ kind, title, count }) =>
          Array.from({ length: count }, (_, i) => box(`${kind} ${i + 1}`, `${title} ${i + 1}`)),
        )}
      </div>
    </div>
  );
}
