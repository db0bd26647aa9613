import { allFirmware, LOADER_PART, partOf, releaseTitle, type Catalogue, type Firmware } from "@/core/catalog";
import { candidatesOf } from "@/core/identify";
import { loadCatalogue } from "@/server/repositories/catalogue";
import { Op } from "sequelize";
import { getDb } from "@/server/db";
import { backupsNamed } from "@/server/repositories/backups";
import { partsNamed } from "@/server/repositories/fleet-parts";
import { typesLike } from "@/server/repositories/standards";
import { likeText, list } from "@/server/sql";
import type { Findable } from "@/contracts/answers/found";

const MOST = 12;

/** What is always there to be found: views and things to do. */
const TO_DO: readonly Findable[] = [
  ...[1, 2, 3, 4, 5, 6].map((no) => ({
    group: "Bays",
    title: `Bay ${no}`,
    words: "bench plug board connect",
    href: `/bench/${no}`,
  })),
  { group: "To do", title: "Compare two configurations", words: "diff difference rates PID OSD", href: "/compare" },
  { group: "To do", title: "Compare three configurations", words: "merge conflict base", href: "/compare/three" },
  { group: "To do", title: "Parts of the fleet", words: "odd one out behind boards firmware", href: "/parts" },
  { group: "To do", title: "What a release changes", words: "changelog update silent", href: "/firmware/changes" },
  { group: "To do", title: "What a release would do to the fleet", words: "impact update", href: "/firmware/impact" },
  { group: "To do", title: "Idiom workshop", words: "console language definition", href: "/firmware/workshop" },
  { group: "To do", title: "Learn a release", words: "read-out passage rules", href: "/firmware/learn" },
  { group: "To do", title: "Which target does a board take", words: "identify board name", href: "/boards/which" },
  { group: "To do", title: "Read a maker's pad sheet", words: "board definition import", href: "/boards/sheet" },
  { group: "To do", title: "Hold two targets against one another", words: "nearest pads", href: "/boards/targets" },
  { group: "To do", title: "Your account", words: "password session sign out me", href: "/me" },
  {
    group: "To do",
    title: "People and sign-ins",
    words: "account user role password log technician lead",
    href: "/people",
  },
  {
    group: "To do",
    title: "Copies and the record",
    words: "back up backup restore verify chain seal hash audit",
    href: "/keeping",
  },
  {
    group: "To do",
    title: "Campaigns",
    words: "fleet type update all rollout standard",
    href: "/campaigns",
  },
  {
    group: "To do",
    title: "Check a visit's papers",
    words: "verify archive proof chain seal hash",
    href: "/keeping/papers",
  },
  {
    group: "To do",
    title: "Order a job",
    words: "flash update upgrade downgrade erase wipe firmware DFU bootloader",
    href: "/bench/1",
  },
  {
    group: "To do",
    title: "Revive a board that does not start",
    words: "brick bricked dead recover rescue bootloader loader DFU boot button erase",
    href: "/bench/1",
  },
  {
    group: "To do",
    title: "Copy onto another board",
    words: "clone copy replace duplicate restore backup",
    href: "/backups/copy",
  },
  {
    group: "To do",
    title: "A new family, from a read-out",
    words: "console language idiom unknown firmware import sample",
    href: "/firmware/new",
  },
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

/** What fits a few letters, the aircraft first: of each kind a handful, so that the answer is as quick in a large workshop. */
export async function find(query: string): Promise<Findable[]> {
  const wanted = likeText(query.trim());
  const says = { [Op.iLike]: wanted };
  const lower = query.trim().toLowerCase();
  const { Job, RegisterEntry } = getDb();
  const [aircraft, jobs, backups, types, catalogue, parts] = [
    await list(RegisterEntry, {
      where: { [Op.or]: [{ tag: says }, { label: says }, { type: says }, { chip_id: says }] },
      attributes: ["tag", "label", "type", "chip_id"],
      order: ["tag"],
      limit: MOST,
    }),
    await list(Job, {
      where: { [Op.or]: [{ "$aircraft.tag$": says }, { headline: says }] },
      attributes: ["id", "headline", "state"],
      include: [{ association: "aircraft", attributes: ["tag"], required: true }],
      order: [["id", "desc"]],
      limit: MOST,
    }),
    lower.length < 3 ? [] : await backupsNamed(wanted, MOST),
    await typesLike(wanted, MOST),
    await loadCatalogue(),
    lower.length < 3 ? [] : await partsNamed(query, MOST),
  ];
  const releases = allFirmware(catalogue);
  const settings = lower.length < 3 ? [] : settingsLike(releases, lower);
  const fits = (thing: Findable) => `${thing.title} ${thing.words}`.toLowerCase().includes(lower);
  return [
    ...aircraft.map((a) => ({
      group: "Aircraft",
      title: `${a.tag} ${a.label}`.trim(),
      words: `${a.type} ${a.chip_id ?? ""} ${query}`,
      href: `/aircraft/${a.tag}`,
    })),
    ...parts.map(({ tag, part, place }) => ({
      group: "Behind the boards",
      title: `${tag} ${place}`,
      words: `${part} ${query}`,
      href: `/aircraft/${tag}/history?part=${encodeURIComponent(part)}`,
    })),
    ...askedOfParts(catalogue).filter(fits).slice(0, MOST),
    ...types.map((type) => ({
      group: "Types",
      title: `${type} against its standard`,
      words: `drift alike standard fleet clone ${query}`,
      href: `/compare/fleet/${encodeURIComponent(type)}`,
    })),
    ...jobs.map((j) => ({
      group: "Jobs",
      title: `${j.aircraft?.tag ?? ""}: ${j.headline}`,
      words: `visit ${j.id} ${j.state} ${query}`,
      href: `/jobs/${j.id}`,
    })),
    ...backups.map((b) => ({ group: "Backups", title: b.name, words: query, href: `/backups/${b.id}` })),
    ...releases
      .map((r) => ({
        group: "Releases",
        title: releaseTitle(r),
        words: `firmware flash update ${r.standing} ${partOf(r)}`,
        href: `/firmware/changes?to=${r.id}`,
      }))
      .filter(fits)
      .slice(0, MOST),
    ...candidatesOf(catalogue)
      .map(({ id, title, names, model }) => ({
        group: "Boards",
        title: model ? `${title}, printed “${model.printed}”` : title,
        words: `board target ${names.join(" ")} ${model?.maker ?? ""} ${model?.processor ?? ""} ${model?.smallPrint ?? ""}`,
        href: model ? `/boards/${id}` : `/boards/targets?here=${encodeURIComponent(names[0] ?? "")}`,
      }))
      .filter(fits)
      .slice(0, MOST),
    ...settings,
    ...TO_DO.filter(fits),
  ];
}

/** What can be asked of the parts of the fleet: which do not run a release, which are built for a target. */
function askedOfParts({ parts }: Catalogue): Findable[] {
  const all = [...parts.values()].filter(({ part }) => part !== LOADER_PART);
  const link = (query: Readonly<Record<string, string>>) => `/parts?${new URLSearchParams(query).toString()}`;
  const targets = new Map(all.flatMap(({ part, targets: built }) => built.map(({ id }) => [id, part] as const)));
  return [
    ...all.map((release) => ({
      group: "Behind the boards",
      title: `Which ${release.part} are not ${releaseTitle(release)}`,
      words: `${release.id} odd behind`,
      href: link({ kind: release.part, not: release.id }),
    })),
    ...[...targets].map(([target, part]) => ({
      group: "Behind the boards",
      title: `Which ${part} are built for ${target}`,
      words: "power stage code target",
      href: link({ kind: part, built: target }),
    })),
  ];
}

/** Settings by name or title, each once, in the newest release that has it. */
function settingsLike(releases: readonly Firmware[], lower: string): Findable[] {
  const found = new Map<string, Findable>();
  for (const release of releases)
    for (const setting of release.settings) {
      if (found.size >= MOST) return [...found.values()];
      if (!setting.key.toLowerCase().includes(lower) && !setting.title.toLowerCase().includes(lower)) continue;
      found.set(setting.key, {
        group: "Settings",
        title: `${setting.title} (${setting.key})`,
        words: `${setting.area} ${setting.says}`,
        href: `/firmware/changes?to=${release.id}#${encodeURIComponent(setting.key)}`,
      });
    }
  return [...found.values()];
}
