import { action } from "@/core/job/action";

export const firstStart = action("first-start", ({ release }) => ({
  title: "First start",
  why: "The new release must speak before it is given anything.",
  needs: { "main: holds": release.id, "settings region: is": "sound" },
  gives: { "main: runs": release.id, "board: shows": "console" },
  restarts: true,
}));
