"use client";

import { useSearchParams } from "next/navigation";
import { useUrlParam } from "@/ui/base/use-url-param";

/** A switch of the view that stands in the URL: there with this value, or not there. */
export function UrlSwitch({
  name,
  value,
  label,
}: {
  readonly name: string;
  readonly value: string;
  readonly label: string;
}) {
  const { shown, pending, choose } = useUrlParam(name, useSearchParams().get(name) ?? "");
  return (
    <label className="flex min-h-8 items-center gap-1.5 text-sm">
      <input
        type="checkbox"
        checked={shown === value}
        aria-busy={pending}
        className="size-4 accent-(--ink)"
        onChange={(event) => {
          choose(event.target.checked ? value : "");
        }}
      />
      {label}
    </label>
  );
}
