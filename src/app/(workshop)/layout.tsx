import { type ReactNode } from "react";
import { AccountMenu, Brand, Places } from "@/ui/base/frame";
import { Find, type Findable } from "@/ui/base/find";
import { LiveProvider } from "@/ui/bench/live";
import { Strip } from "@/ui/bench/strip";
import { readBays, readBench } from "@/server/repositories/bench";
import { loadCatalogue } from "@/server/repositories/catalogue";
import { readRegister } from "@/server/repositories/fleet";
import { lastNo } from "@/server/repositories/journal";
import { listJobs } from "@/server/repositories/jobs";
import { listTypes } from "@/server/repositories/standards";
import { requirePage } from "@/server/web/session";
import { releaseTitle } from "@/core/catalog";

async function findables(): Promise<Findable[]> {
  const [register, jobs, catalogue, types] = [
    await readRegister(),
    await listJobs(),
    await loadCatalogue(),
    await listTypes(),
  ];
  return [
    ...register.map((a) => ({
      group: "Aircraft",
      title: `${a.tag} ${a.label}`.trim(),
      words: `${a.type} ${a.target ?? ""} ${a.chip_id ?? ""} back up restore clone`,
      href: `/aircraft/${a.tag}`,
    })),
    ...jobs.slice(0, 40).map((j) => ({
      group: "Jobs",
      title: `${j.tag}: ${j.headline}`,
      words: `visit ${j.id} ${j.state}`,
      href: `/jobs/${j.id}`,
    })),
    ...[...catalogue.releases.values()].map((r) => ({
      group: "Releases",
      title: releaseTitle(r),
      words: `firmware flash update ${r.standing}`,
      href: `/firmware#${r.id}`,
    })),
    ...[1, 2, 3, 4, 5, 6].map((no) => ({
      group: "Bays",
      title: `Bay ${no}`,
      words: "bench plug board connect",
      href: `/bench/${no}`,
    })),
    ...types.map((t) => ({
      group: "Types",
      title: `${t.type} against its standard`,
      words: `drift alike standard fleet clone ${t.type}`,
      href: `/compare/fleet/${encodeURIComponent(t.type)}`,
    })),
    { group: "To do", title: "Compare two configurations", words: "diff difference rates PID OSD", href: "/compare" },
    { group: "To do", title: "Compare three configurations", words: "merge conflict base", href: "/compare/three" },
    { group: "To do", title: "Idiom workshop", words: "console language definition", href: "/firmware/workshop" },
    { group: "To do", title: "Learn a release", words: "read-out passage rules", href: "/firmware/learn" },
    { group: "To do", title: "What a release changes", words: "changelog update silent", href: "/firmware/changes" },
    { group: "To do", title: "What a release would do to the fleet", words: "impact update", href: "/firmware/impact" },
    { group: "To do", title: "Order a job", words: "flash update firmware", href: "/bench/1" },
    {
      group: "To do",
      title: "File read-outs from files or a text",
      words: "back up backup import zip restore",
      href: "/backups/file",
    },
    {
      group: "To do",
      title: "Import a document or an image",
      words: "firmware hex catalogue",
      href: "/firmware#import",
    },
  ];
}

export default async function WorkshopLayout({ children }: { readonly children: ReactNode }) {
  const account = await requirePage();
  const bench = await readBench();
  return (
    <LiveProvider bays={await readBays(bench.id)} no={await lastNo(bench.id)}>
      <a href="#main" className="sr-only focus:not-sr-only focus:absolute focus:z-40 focus:bg-sheet focus:p-2">
        To the page
      </a>
      <header className="no-print flex min-h-[52px] flex-wrap items-center gap-x-6 border-b border-rule bg-sheet px-6">
        <Brand />
        <Places />
        <Find things={await findables()} />
        <AccountMenu name={account.name} role={account.role} />
      </header>
      <main id="main" className="mx-auto max-w-[1280px] px-6 pt-5 pb-32 max-md:pb-8">
        {children}
      </main>
      <Strip benchName={bench.name} clockFactor={bench.clock_factor} />
    </LiveProvider>
  );
}
