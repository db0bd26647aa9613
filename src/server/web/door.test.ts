import fc from "fast-check";
import { addressOf, doorAt, hostOf, isOwnOrigin, isRouterState } from "@/server/web/door";

const behind = doorAt("127.0.0.1", ["127.0.0.1"], new URL("https://workshop.example"));
const open = doorAt("127.0.0.1", ["127.0.0.1"]);

describe("the door of the web", () => {
  it("goes by loopback's names, its own address, and the public one; by no other", () => {
    for (const host of ["localhost", "127.0.0.1", "[::1]"]) expect(open.hosts.has(host)).toBe(true);
    expect([open.hosts.has("workshop.example"), behind.hosts.has("workshop.example")]).toEqual([false, true]);
    expect(doorAt("192.0.2.7", []).hosts.has("192.0.2.7")).toBe(true);
    expect([...doorAt("0.0.0.0", []).hosts].length).toBeGreaterThan(3);
  });

  it.each([
    ["127.0.0.1:4170", "127.0.0.1"],
    ["LOCALHOST", "localhost"],
    ["workshop.example.:443", "workshop.example"],
    ["[::1]:4170", "[::1]"],
    ["", undefined],
    ["a b", undefined],
    ["evil.test@127.0.0.1", undefined],
    ["127.0.0.1:4170:1", undefined],
    [undefined, undefined],
  ])("reads the host of %s", (header, host) => expect(hostOf(header)).toBe(host));

  it("takes a word on where a request comes from only of a server before it that it trusts", () => {
    expect(addressOf("::ffff:127.0.0.1", "198.51.100.4", behind)).toBe("198.51.100.4");
    expect(addressOf("127.0.0.1", "6.6.6.6, 198.51.100.4", behind)).toBe("198.51.100.4");
    expect(addressOf("127.0.0.1", "198.51.100.4, 127.0.0.1", behind)).toBe("198.51.100.4");
    expect(addressOf("203.0.113.5", "198.51.100.4", behind)).toBe("203.0.113.5");
    expect(addressOf("127.0.0.1", "198.51.100.4", open)).toBe("127.0.0.1");
    expect(addressOf("127.0.0.1", "<script>", behind)).toBe("127.0.0.1");
    expect(addressOf(undefined, undefined, open)).toBe("");
  });

  it("takes changes from its own pages only", () => {
    expect(isOwnOrigin("http://127.0.0.1:4170", "127.0.0.1:4170", open)).toBe(true);
    expect(isOwnOrigin("https://workshop.example", "127.0.0.1:4170", behind)).toBe(true);
    // what came over TLS to the public name does not come from there over plain HTTP
    expect(isOwnOrigin("http://workshop.example", "workshop.example", behind)).toBe(false);
    for (const other of ["http://elsewhere.test", "null", "", undefined])
      expect(isOwnOrigin(other, "127.0.0.1:4170", open)).toBe(false);
  });

  it("knows what a page says of where it stands, whatever else is sent", () => {
    const state = ["", { children: ["jobs", { children: [["id", "7", "d", null], {}] }] }, null, "refetch"];
    expect(isRouterState(encodeURIComponent(JSON.stringify(state)))).toBe(true);
    for (const text of ["", "%", "[]", "{}", "[1,{}]", '["",[["x"]]]', '["",{"a":1}]', "[".repeat(50)])
      expect(isRouterState(text)).toBe(false);
    fc.assert(fc.property(fc.oneof(fc.string(), fc.json()), (text) => typeof isRouterState(text) === "boolean"));
  });
});
