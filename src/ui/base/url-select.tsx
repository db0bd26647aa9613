"use client";

import { Select, type SelectOption } from "@/ui/base/select";
import { useUrlParam } from "@/ui/base/use-url-param";

interface UrlSelectProps {
  readonly name: string;
  readonly label: string;
  readonly value: string;
  readonly options: readonly SelectOption[];
  /** Text of the empty choice, where there may be none. */
  readonly none?: string;
}

/** A choice that stands in the URL; choosing asks the server for the view again. */
export function UrlSelect({ name, value, ...rest }: UrlSelectProps) {
  const { shown, pending, choose } = useUrlParam(name, value);
  return <Select {...rest} says="beside" value={shown} busy={pending} onValue={(next) => choose(next)} />;
}
