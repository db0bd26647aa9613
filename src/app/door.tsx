import type { ReactNode } from "react";
import { Brand } from "@/ui/base/frame";

/** A page before one is in: one sheet, and what is said under it. */
export function Door({
  title,
  lead,
  children,
  below,
}: {
  readonly title: string;
  readonly lead: string;
  readonly children: ReactNode;
  readonly below?: string;
}) {
  return (
    <main className="mx-auto mt-[12vh] w-[min(24rem,92vw)] pb-10">
      <Brand />
      <div className="mt-5 border border-rule bg-sheet p-6">
        <h1>{title}</h1>
        <p className="mt-1 mb-4 text-sm text-faded">{lead}</p>
        {children}
      </div>
      {below !== undefined && <p className="mt-3 text-sm text-faded">{below}</p>}
    </main>
  );
}
