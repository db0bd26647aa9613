"use client";

import { useRouter, useSearchParams } from "next/navigation";
import { type ReactNode } from "react";

export interface PickerChoice {
  readonly group: string;
  readonly ref: string;
  readonly title: string;
}

/** Chooses what stands on one side of a comparison; the choice stands in the URL. */
export function SidePicker({
  name,
  label,
  value,
  choices,
  children,
}: {
  readonly name: string;
  readonly label: string;
  readonly value: string;
  readonly choices: readonly PickerChoice[];
  readonly children?: ReactNode;
}) {
  const router = useRouter();
  const params = useSearchParams();
  const groups = [...new Set(choices.map((choice) => choice.group))];
  const known = choices.some((choice) => choice.ref === value);
  return (
    <div className="min-w-0 px-4 py-3">
      <label className="flex flex-wrap items-baseline gap-2 text-sm font-semibold">
        {label}
        <select
          aria-label={label}
          value={value}
          onChange={(event) => {
            const next = new URLSearchParams(params);
            next.set(name, event.target.value);
            router.push(`?${next.toString()}`);
          }}
          className="min-h-8 max-w-full min-w-0 rounded-base border border-edge bg-sheet px-2 font-normal"
        >
          {value === "" && <option value="">Choose…</option>}
          {!known && value !== "" && <option value={value}>{value}</option>}
          {groups.map((group) => (
            <optgroup key={group} label={group}>
              {choices
                .filter((choice) => choice.group === group)
                .map((choice) => (
                  <option key={choice.ref} value={choice.ref}>
                    {choice.title}
                  </option>
                ))}
            </optgroup>
          ))}
        </select>
      </label>
      {children}
    </div>
  );
}

/** A switch of the view that stands in the URL. */
export function ViewSwitch({
  name,
  value,
  label,
}: {
  readonly name: string;
  readonly value: string;
  readonly label: string;
}) {
  const router = useRouter();
  const params = useSearchParams();
  const on = params.get(name) === value;
  return (
    <label className="flex min-h-8 items-center gap-1.5 text-sm">
      <input
        type="checkbox"
        checked={on}
        className="size-4 accent-(--ink)"
        onChange={() => {
          const next = new URLSearchParams(params);
          if (on) next.delete(name);
          else next.set(name, value);
          router.push(`?${next.toString()}`);
        }}
      />
      {label}
    </label>
  );
}
