import { Op, type Transaction } from "sequelize";
import { ProblemError } from "@/core/problem";
import { getDb } from "@/server/db";
import type { GroundingCause, GroundingRow } from "@/server/models";
import { exists, first, inTransaction, list, NOW, type Row } from "@/server/sql";

const COLUMNS = ["id", "cause", "reason", "account", "at"] as const satisfies readonly (keyof Row<GroundingRow>)[];
export type Grounding = Row<GroundingRow, (typeof COLUMNS)[number]>;

/** Open reasons, the oldest first. */
export const groundingsOf = (aircraftId: number, transaction?: Transaction): Promise<Grounding[]> =>
  list(getDb().GroundingRow, {
    where: { aircraft_id: aircraftId, lifted_at: null },
    attributes: COLUMNS,
    order: ["id"],
    transaction,
  });

/** The aircraft's state as its open reasons make it; while a job is on it, it is on the bench. */
export async function settleState(aircraftId: number, transaction: Transaction, onBench?: string): Promise<void> {
  const reasons = (await groundingsOf(aircraftId, transaction)).map(({ reason }) => reason);
  const is =
    onBench !== undefined
      ? ({ state: "on-bench", state_reason: onBench } as const)
      : reasons.length > 0
        ? ({ state: "out-of-service", state_reason: reasons.join("; ") } as const)
        : ({ state: "in-service", state_reason: "" } as const);
  await getDb().Aircraft.update(is, { where: { id: aircraftId }, transaction });
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
  const { GroundingRow } = getDb();
  const said = { aircraft_id: aircraftId, cause, reason };
  if (await exists(GroundingRow, { ...said, lifted_at: null }, transaction)) return;
  await GroundingRow.create({ ...said, account, job_id: jobId ?? null }, { transaction });
}

/** What a signed-off job answers: everything but what a person said for reasons of their own. What a job left to people, another job answers too. */
export async function liftBySignOff(aircraftId: number, account: string, transaction: Transaction): Promise<void> {
  const answered = { [Op.or]: [{ cause: { [Op.ne]: "person" } }, { job_id: { [Op.ne]: null } }] };
  await getDb().GroundingRow.update(
    { lifted_by: account, lifted_at: NOW },
    { where: { aircraft_id: aircraftId, lifted_at: null, ...answered }, transaction },
  );
}

interface Held {
  readonly aircraftId: number;
  /** The job that it is on the bench for. */
  readonly onBench: string | undefined;
}

/** An aircraft, held until what is said of it is settled. */
async function hold(tag: string, transaction: Transaction): Promise<Held> {
  const found = await first(getDb().Aircraft, {
    where: { tag },
    attributes: ["id", "state", "state_reason"],
    lock: transaction.LOCK.UPDATE,
    transaction,
  });
  if (!found) throw new ProblemError({ code: "aircraft-none", message: `There is no aircraft ${tag}` });
  return { aircraftId: found.id, onBench: found.state === "on-bench" ? found.state_reason : undefined };
}

/** A person keeps an aircraft on the ground. */
export const groundAircraft = (tag: string, reason: string, account: string): Promise<void> =>
  inTransaction(async (transaction) => {
    const { aircraftId, onBench } = await hold(tag, transaction);
    await addGrounding({ aircraftId, cause: "person", reason, account }, transaction);
    await settleState(aircraftId, transaction, onBench);
  });

/** Takes a person's reason back, by name. What waits for a signed-off job cannot be talked away. */
export const liftGrounding = (tag: string, id: number, account: string): Promise<void> =>
  inTransaction(async (transaction) => {
    const { aircraftId, onBench } = await hold(tag, transaction);
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
    await getDb().GroundingRow.update({ lifted_by: account, lifted_at: NOW }, { where: { id }, transaction });
    await settleState(aircraftId, transaction, onBench);
  });
