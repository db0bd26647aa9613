import { hasAccounts } from "@/server/accounts";
import { benchName, hasSessionSecret, publicUrl, sessionSecret } from "@/server/env";
import { firstRunCode } from "@/server/first-run";
import { closeDb } from "@/server/db";
import { migrate } from "@/server/migrate";
import { ensureSigningKey } from "@/server/signing";
import { ensureBench } from "@/server/repositories/bench";

/** Run by bin/start: schema, bench, and in a workshop without accounts the way to the first. */
async function main() {
  await migrate();
  if (!hasSessionSecret() && (await hasAccounts()))
    console.log(
      "The key of sessions (session.secret) was lost: another is made. Everybody signs in again; browsers that were known are not any more. Passwords and second factors stay.",
    );
  sessionSecret();
  await ensureSigningKey();
  await ensureBench(benchName());
  const at = process.argv.find((word) => word.startsWith("--first="))?.slice("--first=".length);
  if (at !== undefined && !(await hasAccounts()))
    console.log(
      `The workshop has no account yet. Make the first: ${publicUrl()?.origin ?? at}/first?code=${firstRunCode()}`,
    );
  await closeDb();
}

main().catch((error: unknown) => {
  console.error(`The database could not be prepared: ${error instanceof Error ? error.message : String(error)}`);
  process.exit(1);
});
