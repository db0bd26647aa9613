"use client";

import { useRouter } from "next/navigation";
import { Select } from "@/ui/base/select";

/** Asks the fleet: parts of one kind, those that do not run a release, those built for a target. The address says what was asked. */
export function AskParts({
  kind,
  not,
  built,
  kinds,
  targets,
  releases,
}: {
  readonly kind: string;
  readonly not: string;
  readonly built: string;
  readonly targets: readonly string[];
  readonly kinds: readonly string[];
  readonly releases: readonly { readonly id: string; readonly title: string }[];
}) {
  const router = useRouter();
  const go = (next: { readonly kind: string; readonly not: string; readonly built: string }) => {
    const said = Object.entries(next).filter(([, value]) => value !== "");
    router.push(`/parts?${new URLSearchParams(said).toString()}`);
  };
  return (
    <div className="mb-3 flex flex-wrap gap-3">
      <Select
        label="Kind"
        value={kind}
        options={[{ value: "", text: "every kind" }, ...kinds.map((each) => ({ value: each, text: each }))]}
        onValue={(next) => go({ kind: next, not: "", built: "" })}
      />
      <Select
        label="Which do not run"
        value={not}
        options={[
          { value: "", text: "anything: show all" },
          ...releases.map(({ id, title }) => ({ value: id, text: title })),
        ]}
        onValue={(next) => go({ kind, not: next, built })}
      />
      <Select
        label="Built for"
        value={built}
        options={[{ value: "", text: "any target" }, ...targets.map((target) => ({ value: target, text: target }))]}
        onValue={(next) => go({ kind, not, built: next })}
      />
    </div>
  );
}
