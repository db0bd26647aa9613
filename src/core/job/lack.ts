/** What lacks, as `hindranceAhead` names it, in the words of the bench. */
const SAYS: Readonly<Record<string, string>> = {
  "main: shows loader": "the board does not show its loader",
  "main: shows console": "the board does not answer on its console",
  "main: known": "it is not known which board this is",
  "main: reads": "its flash cannot be read",
  "main: settings region sound": "its settings region is damaged",
  "main: settings kept": "its settings are not backed up yet",
  "main: settings rescued": "its settings region was not read out yet",
  "main: settings chosen": "no settings are chosen yet",
  "main loader: seen": "its loader was not looked at yet",
  "main loader: serves": "its loader is not one that the release starts on",
  "visit: plan taken": "the plan is not taken yet",
};

const sayLack = (lack: string): string =>
  SAYS[lack] ?? (/: (runs|holds) /.test(lack) ? "the wanted firmware is not on it" : lack.replace(": ", " "));

/** “the board does not show its loader”: why the steps that were foretold do not lead on. */
export const lackSentence = (lacks: readonly string[]): string => [...new Set(lacks.map(sayLack))].join("; ");
