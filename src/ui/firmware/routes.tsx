import type { Losses, RouteTold } from "@/core/carryover";
import type { Lineage } from "@/core/catalog";
import { Table } from "@/ui/base/table";
import { Sheet } from "@/ui/base/parts";
import { LineageGraph } from "@/ui/firmware/lineage";
import { Folded } from "@/ui/base/folded";

const COLUMNS: readonly { readonly loss: keyof Losses; readonly say: string }[] = [
  { loss: "none", say: "Whole" },
  { loss: "rounding", say: "May be rounded" },
  { loss: "look", say: "Mean something else" },
  { loss: "limit", say: "May be limited" },
  { loss: "lost", say: "Lost" },
];

/** The ways between two releases: through the lineage, and what each would lose of all values at worst. */
export function Routes({
  routes,
  back,
  lineage,
}: {
  readonly routes: readonly RouteTold[];
  readonly back: RouteTold | undefined;
  readonly lineage: Lineage;
}) {
  const [taken] = routes;
  if (!taken) return null;
  const rows = [
    ...routes.map((route, i) => ({ route, say: i === 0 ? "taken" : "" })),
    ...(back ? [{ route: back, say: "way back" }] : []),
  ];
  return (
    <Folded
      className="mb-4"
      headClass="text-sm"
      head={`The way: ${taken.title}. ${sentence(taken, routes.length - 1, back)}`}
    >
      <Sheet label="Ways" className="mt-2 overflow-x-auto px-4 py-3">
        <Table
          className="min-w-[720px]"
          rows={rows}
          keyOf={({ route, say }) => `${say} ${route.title}`}
          columns={[
            { head: "Way", cell: ({ route }) => route.title },
            {
              head: <span className="sr-only">Which</span>,
              headLook: "w-24",
              look: "text-sm text-faded",
              cell: ({ say }) => say,
            },
            ...COLUMNS.map(({ loss, say }) => ({
              head: say,
              headLook: "w-[7.5rem]",
              counts: true,
              cell: ({ route }: (typeof rows)[number]) => route.losses[loss],
            })),
          ]}
        />
        <p className="mt-1 mb-4 text-sm text-faded">
          Counted over all values of the release that it leaves, and its tables, by the worst that can happen to each.
        </p>
        <LineageGraph lineage={lineage} through={taken.through} />
      </Sheet>
    </Folded>
  );
}

const values = (n: number) => `${n} ${n === 1 ? "value" : "values"}`;

/** “13 values are lost on it, 14 on the way back. 1 other way loses no less.” */
function sentence({ losses }: RouteTold, others: number, back: RouteTold | undefined): string {
  const lost =
    losses.lost === 0
      ? "Nothing is lost on it"
      : `${values(losses.lost)} ${losses.lost === 1 ? "has" : "have"} no place at its end`;
  const home = back
    ? `, ${back.losses.lost === 0 ? "nothing" : back.losses.lost} on the way back`
    : ", and there is no way back";
  const rest = others === 0 ? "" : others === 1 ? " Another way loses no less." : ` ${others} other ways lose no less.`;
  return `${lost}${home}.${rest}`;
}
