import { capital } from "@/core/config";
import type { Metadata } from "next";
import { oneParam, type SearchParams } from "@/app/params";
import { Link } from "@/ui/base/link";
import { releaseTitle } from "@/core/catalog";
import {
  alikePicture,
  asOf,
  buildTitle,
  compareTwo,
  drawPictures,
  sinceOfBoth,
  type Told,
  type Comparison,
  type Difference,
} from "@/core/compare";
import { calledBy, touchedBy } from "@/core/checks";
import { ProblemError, problemOf, type Problem } from "@/core/problem";
import { StateShape } from "@/ui/base/mark";
import { Plate, ProblemNote, Sheet } from "@/ui/base/parts";
import { day } from "@/ui/base/time";
import { DifferenceTable, type SinceText } from "@/ui/compare/difference-table";
import { compareSentence, groupByArea, joinAlike, quietGroups } from "@/ui/compare/groups";
import { PartPairs } from "@/ui/compare/part-pairs";
import { Pictures } from "@/ui/compare/pictures";
import { Folded } from "@/ui/base/folded";
import { UrlSearch } from "@/ui/base/url-search";
import { UrlSwitch } from "@/ui/base/url-switch";
import { hasWords } from "@/ui/base/words";
import { ToShow } from "@/ui/compare/to-show";
import { SidePicker } from "@/ui/compare/side-picker";
import { TypeTable, type TypeLine } from "@/ui/compare/type-table";
import { loadCatalogue } from "@/server/repositories/catalogue";
import { readingsOf, sideOf, type Side } from "@/server/repositories/sides";
import { listTypes, newestStandards } from "@/server/repositories/standards";
import { compareParts } from "@/server/web/compare-parts";
import { requirePage } from "@/server/web/session";

export const metadata: Metadata = { title: "Compare" };

const FORMS = [
  ["csv", "As CSV"],
  ["text", "As text"],
] as const;

interface Props {
  readonly searchParams: SearchParams;
}

async function sideOrProblem(ref: string): Promise<{ side?: Side; problem?: Problem }> {
  if (ref === "") return {};
  try {
    return { side: await sideOf(ref) };
  } catch (error) {
    if (!(error instanceof ProblemError)) throw error;
    return { problem: problemOf(error) };
  }
}

async function typeLines(): Promise<TypeLine[]> {
  const [types, standards, catalogue] = [await listTypes(), await newestStandards(), await loadCatalogue()];
  return types.map(({ type, count }) => {
    const made = standards.find((standard) => standard.type === type);
    const release = catalogue.releases.get(made?.release_id ?? "");
    return {
      type,
      count,
      ...(made
        ? {
            standard: {
              version: made.version,
              release: release ? releaseTitle(release) : "a release that is not known",
              tag: made.tag,
              madeBy: made.made_by,
              madeAt: made.made_at.getTime(),
            },
          }
        : {}),
    };
  });
}

const nameOf = ({ tag, place, title }: Side) => (tag === null ? title : [tag, place].filter(Boolean).join(" "));

/** The read-outs of a side's aircraft up to what stands there, as of a release; what was never an aircraft's has none. */
async function historyOf(side: Side, release: Side["release"], target: string | undefined): Promise<Told[]> {
  if (side.aircraftId === null || side.backupId === null) return [];
  const until = side.takenAt?.getTime() ?? 0;
  const readings = (await readingsOf(side.aircraftId, side.part)).filter((reading) => reading.at <= until);
  return asOf(readings, release, await loadCatalogue(), target);
}

/** Since when the two differ as they do, by the read-outs of both aircraft, and which of them changed last. */
async function sinceOf(left: Side, right: Side): Promise<Record<string, SinceText>> {
  const { release, configuration } = left;
  const { target } = configuration.identity;
  const [mine, theirs] = [await historyOf(left, release, target), await historyOf(right, release, target)];
  if (mine.length < 2 && theirs.length < 2) return {};
  const changed = (side: "left" | "right") =>
    mine.length > 0 && theirs.length > 0 ? nameOf(side === "left" ? left : right) : "";
  return Object.fromEntries(
    [...sinceOfBoth(mine, theirs)].map(([id, { id: backupId, at, oldest, side }]) => {
      const who = changed(side);
      return [
        id,
        { backupId, text: oldest ? `${day(at)} or before` : `since ${day(at)}${who === "" ? "" : `, by ${who}`}` },
      ];
    }),
  );
}

function SideFacts({ side }: { readonly side: Side }) {
  const { configuration, release } = side;
  return (
    <p className="mt-1 text-sm text-faded">
      {side.tag !== null && (
        <span className="mr-2 align-middle">
          <Plate tag={side.tag} />
        </span>
      )}
      {side.takenAt && <>as on {day(side.takenAt.getTime())}, </>}
      {side.verdict === "complete" ? "" : `${side.verdict.replace("-", " ")}, `}
      {buildTitle({ release, identity: configuration.identity })}
      {side.backupId !== null && (
        <>
          {" · "}
          <Link href={`/backups/${side.backupId}`}>read-out</Link>
        </>
      )}
    </p>
  );
}

function Identity({ comparison }: { readonly comparison: Comparison }) {
  const differing = comparison.identity.filter(({ what }) => what !== "board");
  if (differing.length === 0)
    return (
      <p className="flex items-baseline gap-2 border-t border-rule px-4 py-2 text-sm">
        <StateShape shape="disc" />
        Same release, same build, same target.
      </p>
    );
  return (
    <p className="flex items-baseline gap-2 border-t border-rule px-4 py-2 text-sm">
      <StateShape shape="triangle" />
      <span>
        {differing.map(({ what, left, right }) => `${capital(what)}: ${left} against ${right}. `)}
        {comparison.carried !== undefined && `The right side was carried over to be compared: ${comparison.carried}.`}
      </span>
    </p>
  );
}

export default async function ComparePage({ searchParams }: Props) {
  await requirePage();
  const params = await searchParams;
  const [leftRef, rightRef] = [oneParam(params.left), oneParam(params.right)];
  const [left, right] = [await sideOrProblem(leftRef), await sideOrProblem(rightRef)];
  const result =
    left.side && right.side
      ? compareTwo(left.side, right.side, await loadCatalogue(), {
          profiles: oneParam(params.profiles) === "likeness" ? "likeness" : "number",
        })
      : undefined;
  const problem = left.problem ?? right.problem ?? (result && !result.ok ? result.problem : undefined);
  const parts = result?.ok && left.side && right.side ? await compareParts(left.side, right.side) : undefined;
  const heading =
    result?.ok && left.side && right.side
      ? [compareSentence(nameOf(left.side), nameOf(right.side), result.value), parts?.sentence]
          .filter(Boolean)
          .join(" ")
      : "Two configurations, side by side.";
  return (
    <>
      <h1 className="mb-3">{heading}</h1>
      <Sheet label="Sides" className="mb-3">
        <div className="grid grid-cols-2 max-md:grid-cols-1">
          <SidePicker name="left" label="Left" title={left.side?.title ?? leftRef}>
            {left.side && <SideFacts side={left.side} />}
          </SidePicker>
          <div className="border-l border-rule max-md:border-t max-md:border-l-0">
            <SidePicker name="right" label="Right" title={right.side?.title ?? rightRef}>
              {right.side && <SideFacts side={right.side} />}
            </SidePicker>
          </div>
        </div>
        {result?.ok && <Identity comparison={result.value} />}
      </Sheet>
      {problem && <ProblemNote problem={problem} />}
      {parts && parts.pairs.length > 0 && left.side && right.side && (
        <PartPairs pairs={parts.pairs} leftName={nameOf(left.side)} rightName={nameOf(right.side)} />
      )}
      {result?.ok && left.side && right.side ? (
        <Found
          comparison={result.value}
          left={left.side}
          right={right.side}
          onlyFlies={oneParam(params.only) === "flies"}
          profiles={oneParam(params.profiles) === "likeness" ? "likeness" : "number"}
          since={await sinceOf(left.side, right.side)}
          q={oneParam(params.q)}
        />
      ) : (
        !problem && (
          <>
            <p className="mb-5 text-faded">
              Choose what stands on each side: an aircraft as it was last read out, a type&apos;s standard, any backup,
              or the defaults of a release. Or compare <Link href="/compare/three">three of them</Link>.
            </p>
            <h2 className="mb-1.5">Types against their standards</h2>
            <TypeTable lines={await typeLines()} />
          </>
        )
      )}
    </>
  );
}

/** Two read-outs of one board, or of one part behind it. */
const areOfOnePart = (left: Side, right: Side): boolean =>
  left.aircraftId !== null && left.aircraftId === right.aircraftId && left.part === right.part;

function Found({
  comparison,
  left,
  right,
  onlyFlies,
  profiles,
  since,
  q,
}: {
  readonly comparison: Comparison;
  readonly left: Side;
  readonly right: Side;
  readonly onlyFlies: boolean;
  readonly profiles: "number" | "likeness";
  readonly since: Readonly<Record<string, SinceText>>;
  readonly q: string;
}) {
  const fits = (item: Difference) => hasWords(q, [item.title, item.place, item.id, item.area, ...item.why]);
  const wanted = comparison.differences.filter((difference) => (!onlyFlies || difference.flies) && fits(difference));
  const [unsure, behaviour, personal] = [comparison.unsure, comparison.behaviour, comparison.personal].map((items) =>
    joinAlike(items.filter(fits)),
  ) as [Difference[], Difference[], Difference[]];
  const quiet = quietGroups(wanted);
  const pictures = drawPictures(comparison.sides.left, comparison.sides.right).filter((p) => !alikePicture(p));
  const [mine, theirs] = [nameOf(left), nameOf(right)];
  const sides = {
    leftName: mine === theirs ? `Left, ${left.title}` : mine,
    rightName: mine === theirs ? `Right, ${right.title}` : theirs,
    ...{ leftBackup: left.backupId, rightBackup: right.backupId, since },
  };
  const exportOf = (form: string) =>
    `/api/compare?${new URLSearchParams({ left: left.ref, right: right.ref, profiles, form }).toString()}`;
  return (
    <>
      <div className="mb-3 flex flex-wrap items-center gap-x-5">
        <UrlSearch label="Search what differs" value={q} />
        <UrlSwitch name="only" value="flies" label="Only what changes how it flies" />
        <UrlSwitch name="profiles" value="likeness" label="Match profiles by likeness" />
        {left.ref.startsWith("aircraft:") && right.ref.startsWith("aircraft:") && (
          <Link className="text-sm" href={`/compare/three?base=${right.ref}&mine=${left.ref}&theirs=${right.ref}`}>
            With a third
          </Link>
        )}
        {FORMS.map(([form, says]) => (
          <a key={form} className="text-sm first-of-type:ml-auto" href={exportOf(form)} download>
            {says}
          </a>
        ))}
      </div>
      <div
        className={`grid items-start gap-5 ${pictures.length > 0 ? "grid-cols-[1fr_342px] max-lg:grid-cols-1" : "grid-cols-1"}`}
      >
        <div className="grid min-w-0 grid-cols-1 gap-5">
          {q === "" && <ToShow called={calledBy(touchedBy(comparison, areOfOnePart(left, right)))} />}
          {comparison.matched.length > 0 && <p className="text-sm">{comparison.matched.join("; ")}.</p>}
          {groupByArea(wanted).map((group) => (
            <section key={group.name} aria-label={group.name}>
              <h2 className="mb-1.5">
                {group.name} <span className="font-body font-normal text-faded">{group.items.length} differ</span>
              </h2>
              <DifferenceTable label={group.name} items={joinAlike(group.items)} {...sides} />
            </section>
          ))}
          {wanted.length + unsure.length + behaviour.length + personal.length === 0 && q !== "" && (
            <p className="text-faded">Nothing that differs fits. Clear the search.</p>
          )}
          {unsure.length > 0 && (
            <section aria-label="Cannot be told">
              <h2 className="mb-1.5">
                Cannot be told{" "}
                <span className="font-body font-normal text-faded">
                  {comparison.unsure.length}, because a read-out is damaged or does not hold them
                </span>
              </h2>
              <DifferenceTable label="Cannot be told" items={unsure} {...sides} since={{}} />
            </section>
          )}
          {behaviour.length > 0 && (
            <section aria-label="Same number, other meaning">
              <h2 className="mb-1.5">
                Same number, other meaning{" "}
                <span className="font-body font-normal text-faded">{comparison.behaviour.length}</span>
              </h2>
              <DifferenceTable label="Same number, other meaning" items={behaviour} {...sides} />
            </section>
          )}
          {quiet.length > 0 && q === "" && (
            <p className="text-faded">
              <b className="font-head">{quiet.join(", ")}</b> alike{onlyFlies ? " in what flies" : ""}.
            </p>
          )}
          {personal.length > 0 && (
            <Folded
              className="min-h-6 text-faded"
              head={`${comparison.personal.length} personal values left aside (calibration, identity, wiring)`}
              lazy={personal.length > 150}
            >
              <div className="mt-2">
                <DifferenceTable label="Personal values" items={personal} {...sides} />
              </div>
            </Folded>
          )}
        </div>
        {pictures.length > 0 && (
          <div className="grid min-w-0 grid-cols-1 gap-4">
            <Pictures pictures={pictures} />
          </div>
        )}
      </div>
    </>
  );
}
