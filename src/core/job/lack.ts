/** What lacks, as `hindranceAhead` names it, in the words of the bench. */
const SAYS: Readonly<Record<string, string>> = {
  "board: shows loader": "the board does not show its loader",
  "board: shows console": "the board does not answer on its console",
  "board: known": "it is not known which board this is",
  "board: reads": "its flash cannot be read",
  "settings region: is sound": "its settings region is damaged",
  "settings: kept": "its settings are not backed up yet",
  "settings: rescued": "its settings region was not read out yet",
  "settings: chosen": "no settings are chosen yet",
  "loader: seen": "its loader was not looked at yet",
  "loader: serves": "its loader is not one that the release starts on",
  "plan: taken": "the plan is not taken yet",
};

const sayLack = (lack: string): string =>
  SAYS[lack] ?? (lack.startsWith("main: ") ? "the wanted firmware is not on it" : lack.replace(": ", " "));

/** “the board does not show its loader”: why the steps that were foretold do not lead on. */
export const lackSentence = (lacks: readonly string[]): string => [...new Set(lacks.map(sayLack))].join("; ");
