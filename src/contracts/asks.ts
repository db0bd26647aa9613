import type { JobRequest } from "@/contracts/job-wish";
import type { OrderAsk } from "@/contracts/order-shapes";

/** What a page sends to a route, by its path. A route that is not here says by its own shape what it takes. */
export type BodyFor<P extends string> = P extends "/api/jobs"
  ? JobRequest
  : P extends `/api/jobs/${number}` | `/api/bench/${number}`
    ? OrderAsk
    : unknown;
