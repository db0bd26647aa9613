"use client";

import { useRouter, useSearchParams } from "next/navigation";

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
  readonly options: readonly { readonly value: string; readonly text: string }[];
  /** Text of the empty choice, where there may be none. */
  readonly none?: string;
}) {
  const router = useRouter();
  const params = useSearchParams();
  return (
    <label className="flex flex-wrap items-baseline gap-x-2 text-sm">
      {label}
      <select
        aria-label={label}
        value={value}
        className="min-h-8 max-w-full min-w-0 rounded-base border border-edge bg-sheet px-2"
        onChange={(event) => {
          const next = new URLSearchParams(params);
          next.delete("page");
          if (event.target.value === "") next.delete(name);
          else next.set(name, event.target.value);
          router.push(`?${next.toString()}`);
        }}
      >
        {none !== undefined && <option value="">{none}</option>}
        {options.map((option) => (
          <option key={option.value} value={option.value}>
            {option.text}
          </option>
        ))}
      </select>
    </label>
  );
}
