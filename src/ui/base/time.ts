const MINUTE_MS = 60_000;
const DAY_MS = 86_400_000;

const pad = (n: number) => String(n).padStart(2, "0");

/** 09:12:04, in the workshop's own time. */
export function clockTime(at: number): string {
  const date = new Date(at);
  return `${pad(date.getHours())}:${pad(date.getMinutes())}:${pad(date.getSeconds())}`;
}

/** 2026-11-24 09:12. */
export function dayTime(at: number): string {
  const date = new Date(at);
  return `${date.getFullYear()}-${pad(date.getMonth() + 1)}-${pad(date.getDate())} ${pad(date.getHours())}:${pad(date.getMinutes())}`;
}

/** How long ago, as one says it: just now, 12 min, today 09:12, 3 days. */
export function age(at: number, now: number): string {
  const passed = now - at;
  if (passed < 2 * MINUTE_MS) return "just now";
  if (passed < 60 * MINUTE_MS) return `${Math.floor(passed / MINUTE_MS)} min ago`;
  const midnight = new Date(now).setHours(0, 0, 0, 0);
  if (at >= midnight) return `today ${clockTime(at).slice(0, 5)}`;
  const days = Math.ceil((midnight - at) / DAY_MS);
  return days === 1 ? "yesterday" : `${days} days ago`;
}

export function timeLeft(ms: number): string {
  if (ms < 1_000) return "under 1 s left";
  return ms < 90_000 ? `${Math.round(ms / 1000)} s left` : `${Math.round(ms / MINUTE_MS)} min left`;
}

const MONTHS = [
  "January",
  "February",
  "March",
  "April",
  "May",
  "June",
  "July",
  "August",
  "September",
  "October",
  "November",
  "December",
];

/** 14 October; with the year when it is not this one. */
export function day(at: number, now = Date.now()): string {
  const date = new Date(at);
  const year = date.getFullYear() === new Date(now).getFullYear() ? "" : ` ${date.getFullYear()}`;
  return `${date.getDate()} ${MONTHS[date.getMonth()] ?? ""}${year}`;
}
