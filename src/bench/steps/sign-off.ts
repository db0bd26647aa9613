import { capital } from "@/core/config";
import { groupBy } from "@/core/group-by";
import { carriedBy, fittedOf, signerOf, stepSpec, resultOf } from "@/core/job";
import { contradicted } from "@/bench/steps/holding";
import { done, waits, type StepRunner } from "@/bench/steps/context";

/** “Attitude signs and receiver ends were seen.”: the checks that this job called for, and that hold. */
function checksSentence({ state, job }: Parameters<StepRunner>[0]): string {
  const seen = state.steps.flatMap((step) => {
    const shows = stepSpec(job.steps, step).shows;
    return shows !== undefined && step.status === "done" ? [shows] : [];
  });
  if (seen.length === 0) return "";
  const last = seen.length > 1 ? ` and ${seen.at(-1) ?? ""}` : "";
  return `${capital((last === "" ? seen : seen.slice(0, -1)).join(", "))}${last} were seen.`;
}

/** What was proved, of all parts that it is the same of in one sentence: “Front left, front right: all 14 values took.” */
function provedSentence({ state, job }: Parameters<StepRunner>[0]): string {
  const places = new Map(fittedOf(job.goal).map(({ name, place }) => [name as string, place]));
  const said = carriedBy(job.goal).flatMap((part) => {
    const { proved } = resultOf(state, "prove", part);
    return proved === undefined ? [] : [{ place: places.get(part), proved }];
  });
  return [...groupBy(said, ({ proved }) => proved)]
    .map(([proved, of]) => {
      const where = of.flatMap(({ place }) => place ?? []);
      return where.length === 0 ? proved : `${capital(where.join(", "))}: ${proved}`;
    })
    .join(" ");
}

/** Waits for a person's name under what was proved, and what was not. */
export const signOff: StepRunner = async (context) => {
  const { state, job } = context;
  const { signed } = state;
  if (signed) return done(`Signed off by ${signerOf(signed)}: ${signed.statement}`);
  const against = await contradicted(context);
  if (against) return against;
  const parts = carriedBy(job.goal);
  const off = parts.reduce((sum, part) => sum + (resultOf(state, "prove", part).offCount ?? 0), 0);
  const say = [
    provedSentence(context),
    off === 0
      ? ""
      : `${off} ${off === 1 ? "value is" : "values are"} not as planned; by signing you accept ${off === 1 ? "it" : "them"}.`,
    ...state.accepted.map(
      ({ sign, account, reason }) => `Against the board’s own sign (${sign}) ${account} went on: ${reason}.`,
    ),
    checksSentence(context),
    `You answer for ${job.tag} going back into service.`,
  ];
  return waits({ kind: "sign", say: say.filter(Boolean).join(" ") });
};
