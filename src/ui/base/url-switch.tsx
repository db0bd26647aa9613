"use client";

import { useSearchParams } from "next/navigation";
import { Tick } from "@/ui/base/tick";
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
    <Tick
      label={label}
      checked={shown === value}
      busy={pending}
      onChecked={(checked) => choose(checked ? value : "")}
    />
  );
}
