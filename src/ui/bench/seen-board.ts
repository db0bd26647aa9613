/** The board of an aircraft in a bay, as what is ordered for it needs it. */
export interface SeenBoard {
  readonly no: number;
  readonly aircraftId: number;
  /** What it says of itself: another text is another board, or another firmware. */
  readonly board: string;
  /** Its bay is on the screen, and the server can be asked of it. */
  readonly seen: boolean;
}
