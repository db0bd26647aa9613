import type { Metadata } from "next";
import { notFound } from "next/navigation";
import { BaySheet } from "@/ui/bench/bay-sheet";
import { BAYS, readBench } from "@/server/repositories/bench";
import { loadCatalogue } from "@/server/repositories/catalogue";
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
  if (!Number.isInteger(no) || no < 1 || no > BAYS) notFound();
  const [bench, catalogue, boards, boardless] = [
    await readBench(),
    await loadCatalogue(),
    await listSimBoards(),
    await boardlessTags(),
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
      ports={bench.ports}
      shelf={shelf}
      models={[...catalogue.models.values()].map(({ id, title, printed, target, processor }) => ({
        id,
        title,
        printed,
        target,
        processor,
      }))}
      boardless={boardless}
      factor={bench.clock_factor}
      mayWork={mayActAs(account.role, "technician")}
    />
  );
}
