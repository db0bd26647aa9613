import { array, boolean, number, object, string } from "yup";
import type { ProcessorLoader } from "@/core/catalog";
import { loaderShape } from "@/contracts/loader-shape";
import { trimmed } from "@/contracts/shapes";
import { makeBoardDocuments } from "@/server/repositories/board-forms";
import { handleJson } from "@/server/web/handle";

const whole = (most: number) => number().strict().integer().min(0).max(most);
const usbIds = { vendorId: whole(0xffff).required(), productId: whole(0xffff).required() };
const shape = object({
  releaseId: string().max(64).required(),
  keep: boolean().default(false),
  board: object({
    target: trimmed().min(1).max(64).required("What its console calls it is missing"),
    title: trimmed().min(1).max(60).required("The board has no name"),
    maker: trimmed().min(1).max(60).required("The maker is missing"),
    revision: trimmed().min(1).max(8).required(),
    printed: trimmed().max(60),
    processor: trimmed().min(1).max(60).required("The processor is missing"),
    gyro: trimmed().max(60),
    ports: array(whole(16).min(1).required()).max(16).required(),
    bootButton: boolean().strict().required(),
    bootPads: boolean().strict().required(),
    usb: object(usbIds).required(),
  }).required(),
  processor: object({
    flashStart: whole(0xffffffff).required(),
    sectors: array(
      object({ count: whole(512).min(1).required(), sizeBytes: whole(1048576).min(256).required() }).required(),
    )
      .min(1, "Flash has at least one sector")
      .max(16)
      .required(),
    settingsSectors: array(whole(10_000).required()).min(1, "The settings have no sector").max(512).required(),
    applicationSector: whole(10_000).required(),
    loaders: array(loaderShape).max(8).required(),
    chipIdWords: whole(8).min(1).required(),
    loaderIdWords: array(whole(7).required()).min(1).max(8).required(),
  })
    .default(undefined)
    .optional(),
});

/** A board by its particulars: shows the documents that come of it or, with `keep`, keeps all of them or none. */
export async function POST(request: Request): Promise<Response> {
  return handleJson(request, "lead", shape, ({ releaseId, keep, board, processor }, account) =>
    makeBoardDocuments(
      {
        releaseId,
        keep,
        board: { ...board, printed: board.printed ?? "", gyro: board.gyro ?? "" },
        processor: processor && { ...processor, loaders: processor.loaders as ProcessorLoader[] },
      },
      account.name,
    ),
  );
}
