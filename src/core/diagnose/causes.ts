/** Why a board does not do what it should, and what would be seen then. */
export interface Cause {
  readonly id: string;
  readonly title: string;
  /** How often it is the cause, against the others. */
  readonly common: number;
  /** What each symptom would be; a symptom that is not named may be anything. */
  readonly shows: Readonly<Record<string, string>>;
  /** What is done about it, beginning with what can be tried at once. */
  readonly remedy: readonly string[];
}

/** Something to look at or to try, with what can come of it. */
export interface Symptom {
  readonly id: string;
  /** “On the cable” */
  readonly title: string;
  /** Asked of whoever stands before the board; absent where the bench sees it by itself. */
  readonly ask?: string;
  readonly effortS: number;
  /** How often what is seen is not what the cause would show. */
  readonly error: number;
  /** Answers that nobody can be mistaken in: the system itself says so, and a cause that shows another is excluded. */
  readonly certain?: readonly string[];
  readonly answers: Readonly<Record<string, string>>;
}

/** What can be seen of a board that does not work as it should, the quickest first. */
export const SYMPTOMS: readonly Symptom[] = [
  {
    id: "cable",
    title: "On the cable",
    effortS: 0,
    error: 0.02,
    answers: { nothing: "nothing", console: "a console", loader: "a loader", flickers: "comes and goes" },
  },
  {
    id: "port",
    title: "The bay",
    effortS: 0,
    error: 0.01,
    certain: ["absent", "held", "refused"],
    answers: {
      usb: "a USB socket",
      absent: "a port that is not there",
      silent: "a port that is silent",
      held: "a port that another program holds",
      refused: "a port that may not be opened",
    },
  },
  {
    id: "lamp",
    title: "Its lamp",
    ask: "Is a lamp lit on the board?",
    effortS: 3,
    error: 0.05,
    answers: { lit: "It is lit", blinks: "It blinks, over and over", dark: "All is dark" },
  },
  {
    id: "other-cable",
    title: "On another cable",
    ask: "Does it show itself on another cable, one that carried data before?",
    effortS: 20,
    error: 0.02,
    answers: { appears: "Now it shows itself", same: "No change" },
  },
  {
    id: "other-socket",
    title: "In another socket",
    ask: "Does another board show itself in this socket, on this cable?",
    effortS: 40,
    error: 0.03,
    answers: { appears: "The other board does", same: "Nor does the other" },
  },
  {
    id: "restart",
    title: "After a start without its button",
    ask: "Take all power off it, count to ten, and give it power again with its button and pads left alone. Does it answer?",
    effortS: 15,
    error: 0.03,
    answers: { appears: "Now it answers", same: "No change" },
  },
  {
    id: "swap",
    title: "With its wires swapped",
    ask: "Swap the two data wires at the adapter, transmit for receive. Does it answer?",
    effortS: 25,
    error: 0.03,
    answers: { appears: "Now it answers", same: "No change" },
  },
  {
    id: "button",
    title: "By its boot button or pads",
    ask: "Pull it out, plug it in with its boot button held or its pads bridged. Does a loader show itself?",
    effortS: 15,
    error: 0.04,
    answers: { loader: "A loader shows itself", same: "No change" },
  },
  {
    id: "adapter",
    title: "Over the serial adapter",
    ask: "Wire the serial adapter to its first port, bridge its boot pads, plug it in. Does a serial loader answer?",
    effortS: 120,
    error: 0.05,
    answers: { loader: "A loader answers", same: "Nothing answers" },
  },
  {
    id: "gyro",
    title: "Its gyro",
    effortS: 0,
    error: 0.03,
    answers: { answers: "answers", silent: "not found" },
  },
  {
    id: "part",
    title: "Other parts that it feels through",
    effortS: 0,
    error: 0.02,
    answers: { answers: "answer, as far as it needs any", silent: "do not answer" },
  },
  {
    id: "model",
    title: "Its model, by the register",
    effortS: 0,
    error: 0.05,
    answers: { agrees: "takes the target that runs", contradicts: "takes another target" },
  },
  {
    id: "marking",
    title: "The marking of its gyro",
    ask: "What stands on the gyro, its smallest square chip?",
    effortS: 30,
    error: 0.04,
    answers: { same: "The one that the firmware looks for", other: "Another one" },
  },
];

/** Causes, each as what it would show. A cause is one row here; nothing else knows them. */
export const CAUSES: readonly Cause[] = [
  {
    id: "charge-only",
    title: "The cable only charges",
    common: 8,
    shows: {
      cable: "nothing",
      lamp: "lit",
      "other-cable": "appears",
      "other-socket": "same",
      button: "same",
      adapter: "loader",
    },
    remedy: ["Take a cable that carries data, and mark this one"],
  },
  {
    id: "host",
    title: "The socket of the bench, or its driver, does not pass it on",
    common: 3,
    shows: {
      cable: "nothing",
      lamp: "lit",
      "other-cable": "same",
      "other-socket": "same",
      button: "same",
      adapter: "loader",
    },
    remedy: ["Take another bay", "See whether another program holds the port"],
  },
  {
    id: "held",
    title: "Another program holds the port",
    common: 3,
    shows: { cable: "nothing", port: "held" },
    remedy: ["End the other program, or let it go of the port: the bay goes on by itself"],
  },
  {
    id: "not-allowed",
    title: "The bench may not open the port",
    common: 3,
    shows: { cable: "nothing", port: "refused" },
    remedy: [
      "Make the account that the bench runs as a member of the group that owns the port",
      "Start Fresh Start again",
    ],
  },
  {
    id: "port-gone",
    title: "The cable is out, or the machine has no driver for what is plugged in",
    common: 8,
    shows: { cable: "nothing", port: "absent", restart: "same", swap: "same" },
    remedy: [
      "Plug the cable in; under another name it is another port: choose it in the bay",
      "See whether the machine lists it at all, and install the driver of its USB bridge",
    ],
  },
  {
    id: "wires",
    title: "The adapter’s data wires are swapped or loose",
    common: 6,
    shows: { cable: "nothing", port: "silent", lamp: "lit", restart: "same", swap: "appears" },
    remedy: ["Transmit of the adapter goes to receive of the board, and back", "Ground goes to ground"],
  },
  {
    id: "no-power",
    title: "The board has no power: an adapter does not always feed it",
    common: 4,
    shows: { cable: "nothing", port: "silent", lamp: "dark", swap: "same" },
    remedy: ["Feed it over its USB cable as well"],
  },
  {
    id: "waits-in-loader",
    title: "It waits in a loader that this line does not show",
    common: 3,
    shows: { cable: "nothing", port: "silent", lamp: "lit", restart: "appears", swap: "same" },
    remedy: ["Take all power off it, and give it power again with its button and pads left alone"],
  },
  {
    id: "foreign-console",
    title: "It speaks a console, or at a speed, that the workshop does not know",
    common: 2,
    shows: { cable: "nothing", port: "silent", lamp: "lit", restart: "same", swap: "same", button: "loader" },
    remedy: ["Import the idiom that its firmware speaks under Firmware, or write it down there"],
  },
  {
    id: "half-image",
    title: "Half an image: it starts, and what it needs is not there",
    common: 6,
    shows: {
      cable: "nothing",
      lamp: "lit",
      "other-cable": "same",
      "other-socket": "appears",
      button: "loader",
      adapter: "loader",
    },
    remedy: ["Bring it into its loader by button or pads", "Order revival: image and settings are written anew"],
  },
  {
    id: "other-image",
    title: "Firmware for another processor",
    common: 2,
    shows: {
      cable: "nothing",
      lamp: "dark",
      "other-cable": "same",
      "other-socket": "appears",
      button: "loader",
      adapter: "loader",
    },
    remedy: [
      "Bring it into its loader by button or pads",
      "Order revival: the image is held against the processor first",
    ],
  },
  {
    id: "empty",
    title: "No firmware on it, or a flash that was stopped",
    common: 4,
    shows: { cable: "loader", lamp: "lit", button: "loader", "other-socket": "appears", adapter: "loader" },
    remedy: ["Order revival"],
  },
  {
    id: "loader-erased",
    title: "Its USB loader is erased, and its firmware with it",
    common: 2,
    shows: {
      cable: "nothing",
      lamp: "dark",
      "other-cable": "same",
      "other-socket": "appears",
      button: "same",
      adapter: "loader",
    },
    remedy: [
      "Wire the serial adapter to its first port",
      "Bridge its boot pads and plug it in",
      "Order revival over the serial loader",
    ],
  },
  {
    id: "looping",
    title: "Settings that the firmware trips over: it restarts for ever",
    common: 3,
    shows: { cable: "flickers", lamp: "blinks", button: "loader", "other-socket": "appears", adapter: "loader" },
    remedy: [
      "Bring it into its loader by button or pads",
      "Order revival: the settings are read out first, then cleared",
    ],
  },
  {
    id: "wrong-target",
    title: "Firmware of another board: right processor, wrong pads",
    common: 3,
    shows: {
      cable: "console",
      lamp: "lit",
      gyro: "silent",
      part: "answers",
      model: "contradicts",
      marking: "other",
      button: "loader",
    },
    remedy: ["Find out which target it takes", "Order a job that writes the right one"],
  },
  {
    id: "gyro-broken",
    title: "Its gyro is broken",
    common: 1,
    shows: {
      cable: "console",
      lamp: "lit",
      gyro: "silent",
      part: "answers",
      model: "agrees",
      marking: "same",
      button: "loader",
    },
    remedy: ["Take another board: this one must not fly"],
  },
  {
    id: "part-silent",
    title: "Its co-processor does not answer: it feels nothing without it",
    common: 2,
    shows: { cable: "console", lamp: "lit", gyro: "silent", part: "silent", model: "agrees", button: "loader" },
    remedy: [
      "Take all power off it, and press the plug between the two boards home; look for a broken wire",
      "Give it power again after ten seconds: one that hung starts anew",
      "If it never answered this firmware, hold its version against what the release requires",
    ],
  },
  {
    id: "well",
    title: "No fault found: board and sensors answer",
    common: 3,
    shows: { cable: "console", lamp: "lit", gyro: "answers", part: "answers", button: "loader" },
    remedy: [],
  },
  {
    id: "dead",
    title: "The board itself is dead",
    common: 2,
    shows: {
      cable: "nothing",
      lamp: "dark",
      "other-cable": "same",
      "other-socket": "appears",
      button: "same",
      adapter: "same",
    },
    remedy: ["Measure its supply; if it is there, take another board"],
  },
];
