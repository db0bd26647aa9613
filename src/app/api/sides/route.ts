import { sideChoices } from "@/server/repositories/sides";
import { handleSearch } from "@/server/web/handle";

/** What can stand on a side of a comparison and fits a few letters. */
export const GET = (request: Request): Promise<Response> => handleSearch(request, sideChoices);
