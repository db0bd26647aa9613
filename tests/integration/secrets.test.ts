import { closeDb } from "@/server/db";
import { cookieNameOf } from "@/server/cookie-name";
import { secretOf } from "@/server/secrets";
import { run } from "@/server/sql";
import { freshDatabase } from "../support/database";

afterAll(closeDb);

it("a workshop's secrets are its own, stay what they are, and are never changed or let go of", async () => {
  await freshDatabase("secrets_a");
  const [one, same] = await Promise.all([secretOf("x"), secretOf("x")]);
  expect([one.length > 40, one === same, one === (await secretOf("x")), one === (await secretOf("y"))]).toEqual([
    true,
    true,
    true,
    false,
  ]);
  await expect(run("update secrets set value = 'mine'")).rejects.toThrow();
  await expect(run("delete from secrets")).rejects.toThrow();
  const cookie = await cookieNameOf("fresh_start");
  expect([cookie, await cookieNameOf("fresh_start")]).toEqual([
    expect.stringMatching(/^fresh_start_[0-9a-f]{8}$/),
    cookie,
  ]);
  // another workshop in the same browser, on another port of the same machine
  await freshDatabase("secrets_b");
  expect(await cookieNameOf("fresh_start")).not.toBe(cookie);
  expect(await secretOf("x")).not.toBe(one);
}, 60_000);
