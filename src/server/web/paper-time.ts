/** Time of the workshop's papers, of ms since 1970: UTC, to the minute. */
export const paperTime = (at: number): string => `${new Date(at).toISOString().slice(0, 16).replace("T", " ")} UTC`;
