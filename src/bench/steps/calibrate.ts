import { defaultOf, indexOf } from "@/core/catalog";
import { measuredNames, toMeasure, type SettingItem } from "@/core/carryover";
import { equalValues, settingsByAddress, showValue } from "@/core/config";
import { askCommand } from "@/core/console";
import { groupBy } from "@/core/group-by";
import { signKey, type AgainstTaken } from "@/core/identify";
import { valueOf } from "@/core/problem";
import { declareOwn, done, failed, needBoard, waits, type StepRunner, releaseWanted } from "@/bench/steps/context";
import { storedPlan } from "@/bench/steps/plan";

/**
 * What was measured on another board did not come along: somebody measures it on this one, in the way of its firmware, and
 * what the board then holds is read back. What is still at its default flies on only by a reason, with a name.
 */
export const calibrate: StepRunner = async (context) => {
  const { link, store, state, step } = context;
  const release = releaseWanted(context);
  const plan = await storedPlan(store, state);
  const wanted = plan ? toMeasure(plan, release) : [];
  if (wanted.length === 0) return done("Nothing that another board had measured was left behind.");
  if (link.presence().kind !== "console")
    return needBoard("The board has gone from the cable.", ["Plug the board in again"]);
  const { idiom, identity } = await declareOwn(context);
  const confirmedBy = state.steps.find((each) => each.id === step)?.confirmedBy;
  if (confirmedBy === undefined)
    return waits({
      kind: "confirm",
      say: `Nobody has measured on this board: ${measuredNames(wanted)}. The values of another board would be wrong here.`,
      asks: [
        "Set it level, and let nothing move",
        "Calibrate it in the way of its firmware, each sensor that is named",
        "Let it store what it measured",
      ],
      word: "It is calibrated: read it back",
    });
  await context.progress({ say: "Reading back" });
  const { id, recital } = await store.fileBackup(valueOf(await askCommand(link.console, idiom, "recite")).raw);
  if (recital.completeness.verdict !== "complete")
    return failed({
      code: "backup-incomplete",
      message: "The read-back is not complete, so nothing is known of its calibration",
      hint: "Begin the step again",
    });
  const held = settingsByAddress(recital.configuration);
  const found = wanted.map((item) => {
    const entry = held.get(item.id);
    const setting = indexOf(release).settings.get(item.id.slice(item.id.indexOf("/") + 1));
    const standard = setting && defaultOf(setting, identity.target);
    const value = entry?.value ?? standard;
    const shown = setting && value !== undefined ? showValue(value, setting.type) : "nothing";
    const bare =
      !setting || value === undefined || standard === undefined || equalValues(value, standard, setting.type);
    return { item, shown, bare };
  });
  const kinds = groupBy(found, ({ item }) => kindOf(item));
  // an axis may well come out at its default; a sensor of which every axis does was not measured
  const open = [...kinds].flatMap(([kind, all]): AgainstTaken[] =>
    all.every(({ bare }) => bare)
      ? [
          {
            sign: kind,
            taken: "measured on this board",
            seen: `${all.map(({ shown }) => shown).join(", ")}: its defaults`,
            speaksFor: [],
          },
        ]
      : [],
  );
  const unsettled = open.filter((each) => !state.accepted.some(({ sign }) => sign === signKey(each)));
  if (unsettled.length > 0)
    return waits({
      kind: "against",
      say: `${confirmedBy} said that it is calibrated, and the board still holds its defaults. Calibrate it and look again, or go on with a reason, by your name.`,
      readings: unsettled,
    });
  const measuredNow = found.filter(({ bare }) => !bare);
  const measuredTexts = measuredNow.slice(0, SHOWN).map(({ item, shown }) => `${item.title} ${shown}`);
  const more = measuredNow.length - measuredTexts.length;
  return done(
    measuredNow.length === 0
      ? "Not measured on this board; it flies on the defaults, by the reason that was given."
      : `Measured on this board, by the word of ${confirmedBy}: ${measuredTexts.join("; ")}${more > 0 ? ` and ${more} more` : ""}. Read back and filed.`,
    { calibratedId: id },
  );
};

const SHOWN = 4;
const kindOf = ({ title }: SettingItem): string => title.split(",")[0] ?? title;
