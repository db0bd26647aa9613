import { releaseTitle, type Catalogue } from "@/core/catalog";
import type { RegisterRow } from "@/server/repositories/fleet";

/** A register row as the interface takes it: plain data with the names that people use. */
export function registerEntry(row: RegisterRow, catalogue: Catalogue) {
  const release = catalogue.releases.get(row.release_id ?? "");
  return {
    tag: row.tag,
    label: row.label,
    type: row.type,
    state: row.state,
    reason: row.state_reason,
    standing: row.standing,
    model: catalogue.models.get(row.model_id ?? "")?.title ?? "no board",
    target: row.target ?? "",
    firmware: release ? releaseTitle(release) : "unknown",
    completeAt: row.complete_at?.getTime() ?? null,
    lastVerdict: row.last_verdict,
    job: row.job_id === null ? null : { id: row.job_id, headline: row.job_headline ?? "" },
  };
}
