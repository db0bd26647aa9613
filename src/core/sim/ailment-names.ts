/** What is done to a board, as a person would say it. */
export const AILMENT_SAYS = {
  "half-image": "Another tool wrote half an image",
  disarmed: "A flash was stopped: only its loader starts",
  looping: "The power went while settings were stored: it restarts for ever",
  "silent-part": "The plug to its co-processor came loose",
  emptied: "Another tool erased everything",
} as const;
export type Ailment = keyof typeof AILMENT_SAYS;
