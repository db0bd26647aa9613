import type { Transaction } from "sequelize";
import { ProblemError } from "@/core/problem";
import { inTransaction, one, rows, run } from "@/server/sql";

/**
 * Who keeps an aircraft on the ground: `person`, for a reason of the workshop's, which only a person takes back; `board`
 * and `job`, until a job on it is signed off.
 */
export type GroundingCause = "person" | "board" | "job";

export interface Grounding {
  readonly id: number;
  readonly cause: GroundingCause;
  readonly reason: string;
  readonly account: string;
  readonly at: Date;
}

/** Open reasons, the oldest first. */
export const groundingsOf = (aircraftId: number, transaction?: Transaction): Promise<Grounding[]> =>
  rows(
    "select id, cause, reason, account, at from groundings where aircraft_id = $1 and lifted_at is null order by id",
    [aircraftId],
    transaction,
  );

/** The aircraft's state as its open reasons make it; while a job is on it, it is on the bench. */
export async function settleState(aircraftId: number, transaction: Transaction, onBench?: string): Promise<void> {
  const reasons = (await groundingsOf(aircraftId, transaction)).map(({ reason }) => reason);
  const [state, reason] =
    onBench !== undefined
      ? ["on-bench", onBench]
      : reasons.length > 0
        ? ["out-of-service", reasons.join("; ")]
        : ["in-service", ""];
  await run(
    "update aircraft set state = $2, state_reason = $3 where id = $1",
    [aircraftId, state, reason],
    transaction,
  );
}

export interface NewGrounding {
  readonly aircraftId: number;
  readonly cause: GroundingCause;
  readonly reason: string;
  readonly account: string;
  readonly jobId?: number;
}

/** Adds a reason; one that stands already is not said twice. Does not settle the state. */
export async function addGrounding(grounding: NewGrounding, transaction: Transaction): Promise<void> {
  const { aircraftId, cause, reason, account, jobId } = grounding;
  await run(
    `insert into groundings (aircraft_id, cause, reason, account, job_id)
     select $1, $2, $3, $4, $5 where not exists
       (select 1 from groundings where aircraft_id = $1 and cause = $2 and reason = $3 and lifted_at is null)`,
    [aircraftId, cause, reason, account, jobId ?? null],
    transaction,
  );
}

/** What a signed-off job answers: everything but what a person said for reasons of their own. What a job left to people, another job answers too. */
export const liftBySignOff = (aircraftId: number, account: string, transaction: Transaction): Promise<void> =>
  run(
    "update groundings set lifted_by = $2, lifted_at = now() where aircraft_id = $1 and (cause <> 'person' or job_id is not null) and lifted_at is null",
    [aircraftId, account],
    transaction,
  );

const isOnBench = async (aircraftId: number, transaction: Transaction): Promise<string | undefined> =>
  (
    await one<{ state_reason: string }>(
      "select state_reason from aircraft where id = $1 and state = 'on-bench' for update",
      [aircraftId],
      transaction,
    )
  )?.state_reason;

async function idOf(tag: string, transaction: Transaction): Promise<number> {
  const found = await one<{ id: number }>("select id from aircraft where tag = $1 for update", [tag], transaction);
  if (!found) throw new ProblemError({ code: "aircraft-none", message: `There is no aircraft ${tag}` });
  return found.id;
}

/** A person keeps an aircraft on the ground. */
export const groundAircraft = (tag: string, reason: string, account: string): Promise<void> =>
  inTransaction(async (transaction) => {
    const aircraftId = await idOf(tag, transaction);
    await addGrounding({ aircraftId, cause: "person", reason, account }, transaction);
    await settleState(aircraftId, transaction, await isOnBench(aircraftId, transaction));
  });

/** Takes a person's reason back, by name. What waits for a signed-off job cannot be talked away. */
export const liftGrounding = (tag: string, id: number, account: string): Promise<void> =>
  inTransaction(async (transaction) => {
    const aircraftId = await idOf(tag, transaction);
    const found = (await groundingsOf(aircraftId, transaction)).find((each) => each.id === id);
    if (!found)
      throw new ProblemError({
        code: "grounding-none",
        message: "This reason does not stand any more",
        hint: "Somebody may have taken it back meanwhile: look again",
      });
    if (found.cause !== "person")
      throw new ProblemError({
        code: "grounding-job",
        message: "Only a job that is signed off answers this",
        detail: found.reason,
        hint: "Put the board on the bench and order a job",
      });
    await run("update groundings set lifted_by = $2, lifted_at = now() where id = $1", [id, account], transaction);
    await settleState(aircraftId, transaction, await isOnBench(aircraftId, transaction));
  });
