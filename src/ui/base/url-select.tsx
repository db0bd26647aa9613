"use client";

import { useUrlParam } from "@/ui/base/use-url-param";
import { FIELD_LOOK } from "@/ui/base/parts";

export interface UrlOption {
  readonly value: string;
  readonly text: string;
  /** Heading that it stands under, with the others of that heading. */
  readonly group?: string;
}

const Options = ({ options }: { readonly options: readonly UrlOption[] }) =>
  options.map((option) => (
    <option key={option.value} value={option.value}>
      {option.text}
    </option>
  ));

/** A choice that stands in the URL; choosing asks the server for the view again. */
export function UrlSelect({
  name,
  label,
  value,
  options,
  none,
}: {
  readonly name: string;
  readonly label: string;
  readonly value: string;
  readonly options: readonly UrlOption[];
  /** Text of the empty choice, where there may be none. */
  readonly none?: string;
}) {
  const { shown, pending, choose } = useUrlParam(name, value);
  return (
    <label className="flex flex-wrap items-baseline gap-x-2 text-sm">
      {label}
      <select
        aria-label={label}
        value={shown}
        aria-busy={pending}
        className={`${FIELD_LOOK.plain} max-w-full min-w-0`}
        onChange={(event) => {
          choose(event.target.value);
        }}
      >
        {none !== undefined && <option value="">{none}</option>}
        {[...new Set(options.map((option) => option.group))].map((group) => {
          const some = options.filter((option) => option.group === group);
          return group === undefined ? (
            <Options key="" options={some} />
          ) : (
            <optgroup key={group} label={group}>
              <Options options={some} />
            </optgroup>
          );
        })}
      </select>
    </label>
  );
}
