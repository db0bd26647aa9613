/** Something that can be found or done: where it leads, and the words that people search for. */
export interface Findable {
  readonly group: string;
  readonly title: string;
  readonly words: string;
  readonly href: string;
}

/** What can stand on a side of a comparison, by the reference that links name it by. */
export interface SideChoice {
  readonly group: string;
  readonly ref: string;
  readonly title: string;
}
