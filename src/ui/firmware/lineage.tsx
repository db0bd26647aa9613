import { Link } from "@/ui/base/link";
import { MAIN_PART, partOf, releaseTitle, type Firmware, type Lineage } from "@/core/catalog";

const COLUMN = 150;
const LANE = 54;
const BOX = { width: 112, height: 34 };

/** What is said below a release: what runs it, unless the main processor does, and how far it is tested. */
const underOf = (release: Firmware) =>
  [partOf(release), release.standing].filter((word) => word !== MAIN_PART && word !== "stable").join(", ");

/** The lineage as a drawing: each release leads to what changed since the one it is written on top of. */
export function LineageGraph({
  lineage,
  through = [],
}: {
  readonly lineage: Lineage;
  /** A way through it: its releases are filled, its edges strong. */
  readonly through?: readonly string[];
}) {
  const isOnWay = (a: string, b: string) =>
    through.some((id, i) => (id === a && through[i + 1] === b) || (id === b && through[i + 1] === a));
  const at = new Map(lineage.nodes.map((node) => [node.release.id, node]));
  const x = (column: number) => column * COLUMN + 6;
  const y = (lane: number) => lane * LANE + 8;
  const [width, height] = [lineage.columns * COLUMN, lineage.lanes * LANE + 8];
  return (
    <svg
      viewBox={`0 0 ${width} ${height}`}
      className="w-full max-w-[920px] min-w-[720px]"
      role="group"
      aria-label="Lineage"
    >
      {lineage.edges.map((edge) => {
        const [from, to] = [at.get(edge.from), at.get(edge.to)];
        if (!from || !to) return null;
        const [x1, y1] = [x(from.column) + BOX.width, y(from.lane) + BOX.height / 2];
        const [x2, y2] = [x(to.column), y(to.lane) + BOX.height / 2];
        const bend = Math.max(24, (x2 - x1) / 2);
        return (
          <path
            key={`${edge.from} ${edge.to}`}
            d={`M${x1} ${y1}C${x1 + bend} ${y1} ${x2 - bend} ${y2} ${x2} ${y2}`}
            fill="none"
            stroke={isOnWay(edge.from, edge.to) ? "var(--water)" : "var(--edge)"}
            strokeWidth={isOnWay(edge.from, edge.to) ? 3.5 : 1.5}
            {...(edge.main ? {} : { strokeDasharray: "5 4" })}
          />
        );
      })}
      {lineage.nodes.map(({ release, column, lane }) => {
        const main = release.passages[0];
        const href = main ? `/firmware/changes?from=${main.from}&to=${release.id}` : `/firmware#${release.id}`;
        return (
          <Link
            key={release.id}
            href={href}
            className="no-underline"
            aria-label={`${releaseTitle(release)} ${underOf(release)}`.trim()}
          >
            <rect
              x={x(column)}
              y={y(lane)}
              {...BOX}
              rx="3"
              fill={through.includes(release.id) ? "var(--water-wash)" : "var(--sheet)"}
              stroke={release.standing === "stable" ? "var(--ink)" : "var(--straw)"}
              strokeWidth="1.5"
              {...(release.standing === "experimental" ? { strokeDasharray: "3 3" } : {})}
            />
            <text
              x={x(column) + 10}
              y={y(lane) + 21}
              fontSize="14"
              fontWeight="600"
              fill="var(--ink)"
              textDecoration="underline"
            >
              {releaseTitle(release)}
            </text>
            <text x={x(column)} y={y(lane) + BOX.height + 13} fontSize="11" fill="var(--faded)">
              {underOf(release)}
            </text>
          </Link>
        );
      })}
    </svg>
  );
}
