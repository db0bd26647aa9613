const KINDS = [
  [/Firefox\/(\d+)/, "Firefox"],
  [/Edg\/(\d+)/, "Edge"],
  [/Chrom(?:e|ium)\/(\d+)/, "Chromium"],
  [/Version\/(\d+).*Safari/, "Safari"],
] as const;
const SYSTEMS = [
  [/Windows/, "Windows"],
  [/Android/, "Android"],
  [/iPhone|iPad/, "iOS"],
  [/Mac OS X/, "macOS"],
  [/Linux/, "Linux"],
] as const;

/** What a browser says of itself (RFC 9110, 10.1.5), as people name it; its first word where it says nothing known. */
export function browserName(agent: string): string {
  for (const [pattern, name] of KINDS) {
    const found = pattern.exec(agent);
    if (!found) continue;
    const system = SYSTEMS.find(([each]) => each.test(agent))?.[1];
    return `${name} ${found[1]}${system === undefined ? "" : `, ${system}`}`;
  }
  return agent === "" ? "says nothing" : (agent.split(" ")[0] ?? "").slice(0, 40);
}
