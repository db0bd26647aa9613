import { readDocument } from "@/core/catalog";
import { valueOf } from "@/core/problem";
import { demoDocuments } from "./documents";

it("each of the demo world's documents is what its text says, though it was read before", () => {
  expect(process.env.DOCUMENTS_READ).toBeDefined();
  for (const { file, text, document } of demoDocuments())
    expect([file, document]).toEqual([file, valueOf(readDocument(text))]);
});
