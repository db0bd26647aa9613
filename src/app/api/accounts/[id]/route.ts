import { lazy, object, string, type ObjectSchema } from "yup";
import { trimmed } from "@/contracts/shapes";
import { accountById, changePerson, changeRole, resetPassword, setClosed, unlock } from "@/server/accounts";
import { endSecond } from "@/server/second-factor";
import { ProblemError } from "@/core/problem";
import { ROLES } from "@/server/roles";
import { endSessions, type SignedIn } from "@/server/sessions";
import { handleJson } from "@/server/web/handle";
import { rowId } from "@/server/web/row-id";

/** What a lead may do with an account, each with its own shape. */
const acts = {
  role: {
    shape: object({ role: string().oneOf(ROLES).required() }),
    work: (id: number, { role }: { role?: unknown }, by: SignedIn) =>
      changeRole(id, role as (typeof ROLES)[number], by.name),
  },
  person: {
    shape: object({ person: trimmed().max(80).defined() }),
    work: (id: number, { person }: { person?: unknown }) => changePerson(id, String(person)),
  },
  close: { shape: object({}), work: (id: number, _: object, by: SignedIn) => setClosed(id, true, by.name) },
  open: { shape: object({}), work: (id: number, _: object, by: SignedIn) => setClosed(id, false, by.name) },
  password: {
    shape: object({}),
    work: async (id: number, _: object, by: SignedIn) => {
      // it would put them out before they had read it
      if (id === by.id)
        throw new ProblemError({
          code: "own-password",
          message: "Your own password is changed under “Your account”",
          hint: "There it is you who makes it, and you stay in",
        });
      return { password: await resetPassword(id, by.name) };
    },
  },
  "sign-out": {
    shape: object({}),
    work: async (id: number, _: object, by: SignedIn) => ({
      ended: await endSessions({ accountId: id }, `${by.name} ended it`),
    }),
  },
  "second-off": { shape: object({}), work: (id: number, _: object, by: SignedIn) => endSecond(id, by.name) },
  unlock: {
    shape: object({}),
    work: async (id: number, _: object, by: SignedIn) => unlock((await accountById(id)).name, by.name),
  },
} satisfies Record<
  string,
  { shape: ObjectSchema<object>; work: (id: number, body: object, by: SignedIn) => Promise<unknown> }
>;
type Act = keyof typeof acts;

const shape = lazy((value: unknown) => {
  const act = (value as { act?: unknown } | null)?.act;
  const known = typeof act === "string" && Object.hasOwn(acts, act) ? acts[act as Act].shape : object({});
  return known.shape({
    act: string()
      .oneOf(Object.keys(acts) as Act[])
      .required(),
  });
});

export async function POST(request: Request, { params }: { params: Promise<{ id: string }> }): Promise<Response> {
  const id = rowId((await params).id);
  return handleJson(
    request,
    "lead",
    (value) => shape.validateSync(value, { stripUnknown: true }),
    async ({ act, ...body }, account) => {
      await accountById(id);
      return acts[act].work(id, body, account);
    },
  );
}
