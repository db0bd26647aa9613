import type { How } from "@/core/compare";
import type { StateShape } from "@/ui/base/mark";

type Shape = Parameters<typeof StateShape>[0]["shape"];

/** How a release touches a setting: the title of its group, its column's head, its mark. */
export const HOW_SAYS: Readonly<
  Record<How, { readonly title: string; readonly short: string; readonly shape: Shape; readonly quiet?: boolean }>
> = {
  silent: { title: "Silent: nobody set these, and their defaults moved", short: "Silent", shape: "triangle" },
  behaviour: { title: "Same number, other meaning", short: "Other meaning", shape: "triangle" },
  blocked: { title: "Cannot be there", short: "Cannot be there", shape: "square" },
  restricts: { title: "New, and can limit flight", short: "Can limit flight", shape: "triangle" },
  limit: { title: "Less is allowed", short: "Less allowed", shape: "triangle" },
  lost: { title: "No counterpart", short: "No counterpart", shape: "ring" },
  converted: { title: "Converted", short: "Converted", shape: "half", quiet: true },
  renamed: { title: "Renamed", short: "Renamed", shape: "half", quiet: true },
  retired: { title: "Retired", short: "Retired", shape: "dash", quiet: true },
  new: { title: "New, at their defaults", short: "New", shape: "half", quiet: true },
};
