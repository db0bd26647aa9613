import { done, waits, type StepRunner } from "@/bench/steps/context";

/** Waits for a person's name under what was proved, and what was not. */
export const signOff: StepRunner = ({ state, job }) => {
  const { signed } = state;
  if (signed) return Promise.resolve(done(`Signed off by ${signed.account}: ${signed.statement}`));
  const off = state.data.offCount ?? 0;
  const open = off === 0 ? "" : ` ${off} of them differ from the plan; you take them as they are.`;
  return Promise.resolve(
    waits({
      kind: "sign",
      say: `${state.data.proved ?? ""}${open} Attitude signs and receiver ends were seen. You answer for ${job.tag} going back into service.`.trim(),
    }),
  );
};
