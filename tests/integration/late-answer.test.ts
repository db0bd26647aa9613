import { asOwner } from "../support/database";
import { openRoom, type Room } from "../support/room";

const BAY = 2;
let room: Room;

beforeAll(async () => {
  room = await openRoom({ name: "late_answer", tag: "QW-52", bay: BAY, firstPort: 90, factor: 40 });
}, 60_000);

afterAll(() => room.close());

it("a board that could not be known at first is asked again, and known without a hand on it", async () => {
  expect(await room.order({ kind: "bring", boardId: room.simId })).toBe("done");
  // the register is away for a moment, as a console is that is still waking
  await asOwner("alter table boards rename to boards_away");
  expect(await room.order({ kind: "plug", button: false, pads: false })).toBe("done");
  await room.until(async () => (await room.live()).mark === "look", "what is wrong is shown");
  expect((await room.live()).tag).toBeUndefined();
  await asOwner("alter table boards_away rename to boards");
  // what is known of it stands until it answers
  const said = new Set<string>();
  await room.until(async () => {
    const { say, tag } = await room.live();
    said.add(say);
    return tag === "QW-52";
  }, "it is known");
  expect([...said].filter((say) => say.startsWith("Seen, "))).toEqual([]);
  expect((await room.live()).say).toBe("Answers, Heddle 22");
}, 60_000);
