"use client";

import {
  leavesUntuned,
  SCOPE_KINDS,
  SCOPE_SAYS,
  type Advice,
  type Scope,
  type ScopeKind,
} from "@/core/carryover/scope";
import { withAreas } from "@/core/config";
import { useState } from "react";
import { FIELD_LOOK } from "@/ui/base/parts";
import { Press } from "@/ui/base/press";

/** What a release offers a scope to be made of. */
export interface ScopeOffer {
  readonly advice: Advice;
  readonly starters: readonly { readonly name: string; readonly airframe: string }[];
  readonly profiles: readonly { readonly kind: string; readonly title: string; readonly count: number }[];
  /** Areas of the release besides those that every workshop has. */
  readonly areas: readonly { readonly name: string }[];
}

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
    <fieldset className="grid gap-2 border-t border-rule pt-2">
      <legend className="sr-only">What comes along</legend>
      <div className="flex flex-wrap items-end gap-x-4 gap-y-2">
        <label>
          <span className="block text-sm text-faded">What comes along</span>
          <select
            className={FIELD_LOOK.plain}
            value={kind}
            onChange={(event) =>
              onScope({ ...(starter === undefined ? {} : { starter }), kind: event.target.value as ScopeKind })
            }
          >
            {SCOPE_KINDS.map((each) => (
              <option key={each} value={each}>
                {SCOPE_SAYS[each]}
              </option>
            ))}
          </select>
        </label>
        {kind !== "everything" && starters.length > 0 && (
          <label>
            <span className="block text-sm text-faded">What fills the rest</span>
            <select
              className={FIELD_LOOK.plain}
              value={starter ?? ""}
              onChange={(event) => {
                const rest = { kind, ...(scope.leave ? { leave: scope.leave } : {}) };
                onScope(event.target.value === "" ? rest : { ...rest, starter: event.target.value });
              }}
            >
              <option value="">the release’s defaults</option>
              {starters.map(({ name, airframe }) => (
                <option key={name} value={name}>
                  {name}: {airframe}
                </option>
              ))}
            </select>
          </label>
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
    </fieldset>
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
    <label key={name} className="flex min-h-6 items-center gap-1.5">
      <input type="checkbox" className="size-4" checked={leave.includes(name)} onChange={() => toggle(name)} />
      {title}
    </label>
  );
  return (
    <div className="grid gap-2 text-sm" role="group" aria-label="What stays behind">
      <p className="text-faded">What stays behind:</p>
      <div className="flex flex-wrap gap-x-4 gap-y-1">{areas.map((area) => box(area, area))}</div>
      <label>
        Single settings, by their names in the new release, with commas between
        <input
          className={FIELD_LOOK.wide}
          value={single}
          maxLength={2000}
          onChange={(event) => {
            setSingle(event.target.value);
            const names = event.target.value.split(",").map((name) => name.trim());
            onLeave([...leave.filter(isOffered), ...names.filter((name) => name !== "" && !isOffered(name))]);
          }}
        />
      </label>
      <div className="flex flex-wrap gap-x-4 gap-y-1">
        {profiles.flatMap(({ kind, title, count }) =>
          Array.from({ length: count }, (_, i) => box(`${kind} ${i + 1}`, `${title} ${i + 1}`)),
        )}
      </div>
    </div>
  );
}
