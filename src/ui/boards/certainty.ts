/** A certainty from 0 to 1, in words that promise no more than it can. */
export const certaintyText = (share: number): string =>
  share >= 0.995 ? "over 99 %" : share < 0.005 ? "under 1 %" : `${Math.round(share * 100)} %`;
