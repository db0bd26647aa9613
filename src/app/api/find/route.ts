import { find } from "@/server/repositories/find";
import { handleSearch } from "@/server/web/handle";

/** What fits a few letters: aircraft, types, jobs, backups, releases, settings, things to do. */
export const GET = (request: Request): Promise<Response> => handleSearch(request, find);
