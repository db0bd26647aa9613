import { Link } from "@/ui/base/link";
import type { ReactNode } from "react";
import type { Problem } from "@/core/problem";
import { StateShape } from "@/ui/base/mark";

/** An aircraft's tag, as a plate with two screws. */
export function Plate({ tag, big = false }: { readonly tag: string; readonly big?: boolean }) {
  const screw = <span className="size-1 rounded-full bg-edge" aria-hidden="true" />;
  const size = big ? "gap-2.5 px-2.5 py-1 text-[22px]" : "gap-1.5 px-1.5 py-px text-[13px]";
  return (
    <span
      className={`inline-flex items-center rounded-base border-[1.5px] border-ink bg-sheet font-key font-[650] whitespace-nowrap text-ink ${size}`}
      style={{ fontFeatureSettings: '"zero"' }}
    >
      {screw}
      {tag}
      {screw}
    </span>
  );
}

const BUTTON =
  "inline-flex min-h-8 max-w-full items-center gap-1.5 rounded-base border px-3 py-1 text-sm font-[560] whitespace-nowrap no-underline";
export const BUTTON_LOOK = {
  plain: `${BUTTON} border-edge bg-sheet text-ink hover:bg-paper`,
  main: `${BUTTON} border-ink bg-ink text-sheet hover:opacity-90`,
  call: `${BUTTON} border-heather bg-sheet text-heather hover:bg-heather-wash`,
  taken: `${BUTTON} border-heather bg-heather text-sheet`,
  loss: `${BUTTON} border-clay bg-sheet text-clay hover:bg-clay-wash`,
} as const;
export type ButtonLook = keyof typeof BUTTON_LOOK;

/** What is written into or chosen from: beside other things, or as wide as its form. */
export const FIELD_LOOK = {
  plain: "min-h-8 rounded-base border border-edge bg-sheet px-2",
  wide: "block w-full rounded-base border border-edge bg-paper px-2.5 py-1.5",
} as const;

export function LinkButton({
  href,
  look = "plain",
  children,
}: {
  readonly href: string;
  readonly look?: ButtonLook;
  readonly children: ReactNode;
}) {
  return (
    <Link href={href} className={BUTTON_LOOK[look]}>
      {children}
    </Link>
  );
}

export function Sheet({
  children,
  className = "",
  label,
}: {
  readonly children: ReactNode;
  readonly className?: string;
  readonly label?: string;
}) {
  return (
    <section
      className={`min-w-0 border border-rule bg-sheet ${className}`}
      {...(label === undefined ? {} : { "aria-label": label })}
    >
      {children}
    </section>
  );
}

/** A problem as people read it: what happened, the facts, what to do. */
export function ProblemNote({ problem }: { readonly problem: Problem }) {
  return (
    <div role="alert" className="flex gap-2.5 border border-clay bg-clay-wash px-3.5 py-2.5 text-sm text-ink">
      <span className="pt-0.5">
        <StateShape shape="square" />
      </span>
      <div className="min-w-0">
        <p className="font-semibold">
          {problem.message}
          {problem.where?.line === undefined ? "" : ` (line ${problem.where.line})`}.
        </p>
        {problem.detail !== undefined && <p className="mt-0.5 wrap-anywhere">{problem.detail}.</p>}
        {problem.hint !== undefined && <p className="mt-0.5 text-ink">{problem.hint}.</p>}
      </div>
    </div>
  );
}

export function Facts({ facts }: { readonly facts: readonly (readonly [string, ReactNode])[] }) {
  return (
    <dl className="grid grid-cols-[7rem_1fr] gap-x-2.5 gap-y-1 text-sm">
      {facts.map(([name, value]) => (
        <div key={name} className="contents">
          <dt className="text-faded">{name}</dt>
          <dd className="min-w-0 wrap-anywhere">{value}</dd>
        </div>
      ))}
    </dl>
  );
}

export function Empty({ children }: { readonly children: ReactNode }) {
  return <p className="px-4 py-6 text-sm text-faded">{children}</p>;
}

/** What is wider than a narrow page moves sideways in its place, by keys too (WCAG 2.1.1). */
export function Sideways({ label, children }: { readonly label: string; readonly children: ReactNode }) {
  return (
    <div role="group" aria-label={label} tabIndex={0} className="overflow-x-auto">
      {children}
    </div>
  );
}
