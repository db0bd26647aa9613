/** What is sealed of a table, and how. */
export interface SealedKind {
  readonly table: string;
  /** Columns that change later, or follow from what is sealed elsewhere. */
  readonly free?: readonly string[];
  /** The columns that its key is made of. */
  readonly key?: readonly string[];
  /** It is sealed whenever it changes: the last seal of a key is what the row is. */
  readonly state?: true;
  /** Only rows of which this is true must have a seal of this kind. */
  readonly must?: string;
  /** When a row says that it was made; it was sealed then, give or take a little. */
  readonly madeAt?: string;
  /** Of which rows that is true. */
  readonly madeThen?: string;
  /** The seal after which that is true: what was there before was sealed later than it was made. */
  readonly since?: "states";
  /** Rows are let go of after so many days. */
  readonly keptDays?: number;
}

/** Every kind of seal; a kind that stands here not is none. */
export const KINDS: Readonly<Partial<Record<string, SealedKind>>> = {
  journal: { table: "journal", key: ["bench_id", "no"], madeAt: "at" },
  // what is brought as a file may have been taken long before
  backups: { table: "backups", madeAt: "taken_at", madeThen: "t.source in ('job', 'bay')" },
  standards: { table: "standards", madeAt: "made_at" },
  backup_notes: { table: "backup_notes", madeAt: "at" },
  catalogue_documents: { table: "catalogue_documents", madeAt: "imported_at" },
  images: { table: "images", madeAt: "imported_at" },
  // whose a board was may be told for a day long past
  board_moves: { table: "board_moves" },
  groundings: { table: "groundings", free: ["lifted_by", "lifted_at"], madeAt: "at" },
  "groundings-ended": { table: "groundings", must: "t.lifted_at is not null", madeAt: "lifted_at" },
  jobs: { table: "jobs", free: ["state", "headline", "chip_id", "ended_at"], madeAt: "ordered_at" },
  "jobs-ended": { table: "jobs", must: "t.ended_at is not null", madeAt: "ended_at" },
  campaigns: { table: "campaigns", free: ["state", "state_reason", "changed_by", "changed_at"] },
  campaign_decisions: { table: "campaign_decisions" },
  allowances: { table: "allowances", free: ["ended_by", "ended_at"] },
  "allowances-ended": { table: "allowances", must: "t.ended_at is not null", madeAt: "ended_at" },
  fittings: { table: "fittings", madeAt: "at" },
  document_standings: { table: "document_standings" },
  document_origins: { table: "document_origins" },
  read_as: { table: "read_as" },
  signing_keys: { table: "signing_keys", madeAt: "made_at" },
  visit_statements: { table: "visit_statements", key: ["job_id"], madeAt: "made_at" },
  keeping: { table: "keeping", madeAt: "at", since: "states" },
  sign_ins: { table: "sign_ins", madeAt: "at", keptDays: 400, since: "states" },
  "accounts-is": { table: "accounts", free: ["second_step"], state: true },
  "aircraft-is": {
    table: "aircraft",
    free: ["state", "state_reason", "complete_id", "complete_at", "last_verdict", "last_at"],
    state: true,
  },
  "boards-is": { table: "boards", state: true },
  "campaigns-is": { table: "campaigns", state: true },
  "campaign_members-is": { table: "campaign_members", key: ["campaign_id", "aircraft_id"], state: true },
};
