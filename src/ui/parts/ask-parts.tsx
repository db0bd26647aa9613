"use client";

import { useRouter } from "next/navigation";
import { Select } from "@/ui/base/select";

/** Asks the fleet: parts of one kind, and those that do not run a release. The address says what was asked. */
export function AskParts({
  kind,
  not,
  kinds,
  releases,
}: {
  readonly kind: string;
  readonly not: string;
  readonly kinds: readonly string[];
  readonly releases: readonly { readonly id: string; readonly title: string }[];
}) {
  const router = useRouter();
  const go = (next: { readonly kind: string; readonly not: string }) => {
    const said = Object.entries(next).filter(([, value]) => value !== "");
    router.push(`/parts?${new URLSearchParams(said).toString()}`);
  };
  return (
    <div className="mb-3 flex flex-wrap gap-3">
      <Select
        label="Kind"
        value={kind}
        options={[{ value: "", text: "every kind" }, ...kinds.map((each) => ({ value: each, text: each }))]}
        onValue={(next) => go({ kind: next, not: "" })}
      />
      <Select
        label="Which do not run"
        value={not}
        options={[
          { value: "", text: "anything: show all" },
          ...releases.map(({ id, title }) => ({ value: id, text: title })),
        ]}
        onValue={(next) => go({ kind, not: next })}
      />
    </div>
  );
}
