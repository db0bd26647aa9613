import type { ReactNode } from "react";
import { AccountMenu, Brand, Places } from "@/ui/base/frame";
import { DropAnywhere, type DroppedKind } from "@/ui/base/drop-anywhere";
import { Find } from "@/ui/base/find";
import { KeepFocus } from "@/ui/base/keep-focus";
import { LiveProvider } from "@/ui/bench/live";
import { Strip } from "@/ui/bench/strip";
import { readBays, readBenches } from "@/server/repositories/bench";
import { lastNos } from "@/server/repositories/journal";
import type { Role } from "@/server/roles";
import { cursorSum } from "@/server/web/cursor";
import { requirePage } from "@/server/web/session";

/** What each role may bring by dropping it. */
const BRINGS: Readonly<Record<Role, readonly DroppedKind[]>> = {
  observer: [],
  technician: ["read-outs"],
  lead: ["read-outs", "document", "image"],
};

export default async function WorkshopLayout({ children }: { readonly children: ReactNode }) {
  const account = await requirePage();
  return (
    <LiveProvider bays={await readBays()} no={cursorSum(await lastNos())}>
      <a href="#main" className="sr-only focus:not-sr-only focus:absolute focus:z-40 focus:bg-sheet focus:p-2">
        To the page
      </a>
      <header className="no-print flex min-h-[52px] flex-wrap items-center gap-x-6 border-b border-rule bg-sheet px-6 max-sm:gap-x-3 max-sm:px-4 max-sm:pt-2">
        <Brand />
        <Places />
        <Find />
        <AccountMenu name={account.name} role={account.role} />
      </header>
      <DropAnywhere kinds={BRINGS[account.role]}>
        <main id="main" className="mx-auto max-w-[1280px] px-6 pt-5 pb-32 max-md:pb-8">
          {children}
        </main>
      </DropAnywhere>
      <KeepFocus />
      <Strip
        benches={(await readBenches()).map(({ id, name, clock_factor: clockFactor }) => ({ id, name, clockFactor }))}
      />
    </LiveProvider>
  );
}
