import { usbId } from "@/core/identify";
import type { Metadata } from "next";
import { notFound } from "next/navigation";
import { BaySheet } from "@/ui/bench/bay-sheet";
import { benchOfBay, readBays } from "@/server/repositories/bench";
import { loadCatalogue } from "@/server/repositories/catalogue";
import { listTypes } from "@/server/repositories/standards";
import { boardlessTags } from "@/server/repositories/boards";
import { listSimBoards } from "@/server/repositories/simulation";
import { mayActAs } from "@/server/roles";
import { requirePage } from "@/server/web/session";
import { rowId } from "@/server/web/row-id";

interface Props {
  readonly params: Promise<{ no: string }>;
}

export async function generateMetadata({ params }: Props): Promise<Metadata> {
  return { title: `Bay ${(await params).no}` };
}

export default async function BayPage({ params }: Props) {
  const account = await requirePage();
  const no = rowId((await params).no);
  const bench = await benchOfBay(no);
  if (!bench) notFound();
  const [bays, catalogue, boards, boardless, types] = [
    await readBays(bench.id),
    await loadCatalogue(),
    await listSimBoards(),
    await boardlessTags(),
    await listTypes(),
  ];
  const shelf = boards
    .filter((board) => board.bay_no === null)
    .map((board) => ({
      id: board.id,
      label: board.label,
      model: catalogue.models.get(board.model_id)?.title ?? board.model_id,
    }));
  return (
    <BaySheet
      key={no}
      no={no}
      bays={bays.map((bay) => bay.no)}
      ports={bench.ports}
      shelf={shelf}
      models={[...catalogue.models.values()].map(
        ({ id, title, printed, target, processor, revision, smallPrint, usb }) => ({
          ...{ id, title, printed, target, processor, revision, usb: usbId(usb) },
          ...(smallPrint === undefined ? {} : { smallPrint }),
        }),
      )}
      boardless={boardless}
      types={types.map(({ type }) => type)}
      factor={bench.clock_factor}
      mayWork={mayActAs(account.role, "technician")}
    />
  );
}
