import { problemOf, type Problem } from "@/core/problem";

/** How Sequelize names errors of a connection; SQLSTATE classes 08 and 57P (PostgreSQL, appendix A); what the system says. */
const AWAY = /^Sequelize(Connection|HostNot|Timeout|InvalidConnection|ConnectionAcquireTimeout)/;
const CODES = /^(08|57P)|^ECONN|^EPIPE$|^ETIMEDOUT$/;

const isAway = (error: unknown): boolean => {
  if (!(error instanceof Error)) return false;
  const { name, code, cause, original, severity } = error as Error & Record<"code" | "original" | "severity", unknown>;
  // with FATAL the server ends a connection, or takes none
  return (
    severity === "FATAL" ||
    AWAY.test(name) ||
    (typeof code === "string" && CODES.test(code)) ||
    isAway(original) ||
    isAway(cause)
  );
};

/** Somebody else held what was wanted for too long, or it took too long by itself: lock_not_available, deadlock_detected, query_canceled, idle_in_transaction_session_timeout. */
const BUSY = new Set(["55P03", "40P01", "57014", "25P03"]);

const isBusy = (error: unknown): boolean => {
  if (!(error instanceof Error)) return false;
  const { code, cause, original } = error as Error & { code?: unknown; original?: unknown };
  return (typeof code === "string" && BUSY.has(code)) || isBusy(original) || isBusy(cause);
};

/** No room is left: disk_full, or what the system says of a file. */
const FULL = new Set(["53100", "ENOSPC", "EDQUOT"]);

const isFull = (error: unknown): boolean => {
  if (!(error instanceof Error)) return false;
  const { code, cause, original } = error as Error & { code?: unknown; original?: unknown };
  return (typeof code === "string" && FULL.has(code)) || isFull(original) || isFull(cause);
};

/** Anything thrown on the server, as a problem: a database that is away, or busy, is nobody's fault in here. */
export const serverProblem = (error: unknown): Problem =>
  isFull(error)
    ? {
        code: "disk-full",
        message: "The disk of the workshop is full",
        detail: error instanceof Error ? error.message : String(error),
        hint: "Make room on it. Nothing half was kept; steps that stopped go on by themselves",
      }
    : isBusy(error)
      ? {
          code: "database-busy",
          message: "Something else is at work on this, and did not let go in time",
          hint: "Nothing was changed: try it again in a moment",
        }
      : isAway(error)
        ? {
            code: "database-away",
            message: "The database does not answer",
            detail: error instanceof Error ? error.message : String(error),
            hint: "It is tried again by itself; nothing that was kept is lost",
          }
        : problemOf(error);
