import { problemOf, ProblemError } from "@/core/problem";
import { accountNamed, addAccount, allAccounts, changeRole, resetPassword, setClosed, unlock } from "@/server/accounts";
import { closeDb } from "@/server/db";
import { ROLES, type Role } from "@/server/roles";
import { endSecond } from "@/server/second-factor";
import { endSessions } from "@/server/sessions";

const BY = "the keeper of the machine";

const wanted = (word: string | undefined, what: string): string => {
  if (word) return word;
  throw new ProblemError({ code: "usage", message: `${what} is missing`, hint: "bin/account --help" });
};
const roleOf = (word: string | undefined): Role => {
  const role = ROLES.find((each) => each === word);
  if (role) return role;
  throw new ProblemError({
    code: "usage",
    message: `There is no role “${word ?? ""}”`,
    hint: `There are: ${ROLES.join(", ")}`,
  });
};

/** What bin/account can be told, each with what it does; gives the line that is printed. */
const VERBS: Readonly<Record<string, (words: readonly string[]) => Promise<string>>> = {
  list: async () =>
    (await allAccounts())
      .map(
        ({ name, role, person, disabled_at: closed }) =>
          `${name.padEnd(20)} ${role.padEnd(11)} ${closed ? "closed" : "open  "} ${person}`,
      )
      .join("\n"),
  add: async ([name, role, ...person]) => {
    const made = await addAccount({ name: wanted(name, "The name"), role: roleOf(role), person: person.join(" ") });
    return `${name}: password ${made.password} (shown this once; it has to be replaced at the first sign-in)`;
  },
  password: async ([name]) => {
    const { id } = await accountNamed(wanted(name, "The name"));
    return `${name}: password ${await resetPassword(id, BY)} (shown this once; it has to be replaced at the next sign-in)`;
  },
  role: async ([name, role]) => {
    const { id } = await accountNamed(wanted(name, "The name"));
    await changeRole(id, roleOf(role), BY);
    return `${name} is ${role} now`;
  },
  close: async ([name]) => {
    await setClosed((await accountNamed(wanted(name, "The name"))).id, true, BY);
    return `${name} is closed, and out`;
  },
  open: async ([name]) => {
    await setClosed((await accountNamed(wanted(name, "The name"))).id, false, BY);
    return `${name} is open`;
  },
  "sign-out": async ([name]) => {
    const ended = await endSessions({ accountId: (await accountNamed(wanted(name, "The name"))).id }, `${BY} ended it`);
    return `${name}: ${ended} sessions ended`;
  },
  "second-off": async ([name]) => {
    await endSecond((await accountNamed(wanted(name, "The name"))).id, BY);
    return `${name} is asked for no code any more`;
  },
  unlock: async ([name]) => {
    await unlock(wanted(name, "The name"), BY);
    return `${name} may try again`;
  },
};

async function main() {
  const [verb, ...words] = process.argv.slice(2);
  const work = verb !== undefined && Object.hasOwn(VERBS, verb) ? VERBS[verb] : undefined;
  if (!work)
    throw new ProblemError({
      code: "usage",
      message: `There is no “${verb ?? ""}”`,
      hint: `There are: ${Object.keys(VERBS).join(", ")}`,
    });
  console.log(await work(words));
  await closeDb();
}

main().catch((error: unknown) => {
  const { message, detail, hint } = problemOf(error);
  console.error(`Nothing was changed: ${message}${detail === undefined ? "" : `. ${detail}`}`);
  if (hint !== undefined) console.error(`  What to do: ${hint}`);
  process.exit(1);
});
