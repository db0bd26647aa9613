import type { ReactNode } from "react";
import { ProblemError } from "@/core/problem";
import { ProblemNote } from "@/ui/base/parts";

/**
 * A page whose data may be damaged: what is wrong with which datum is told, under what can be shown all the same. Anything
 * else that goes wrong stays what it is.
 */
export function told<P>(
  page: (props: P) => Promise<ReactNode>,
  rest: (props: P) => Promise<ReactNode>,
): (props: P) => Promise<ReactNode> {
  return async function Told(props: P) {
    try {
      return await page(props);
    } catch (error) {
      if (!(error instanceof ProblemError)) throw error;
      return (
        <div className="grid max-w-[46rem] gap-4">
          {await rest(props)}
          <ProblemNote problem={error.problem} />
        </div>
      );
    }
  };
}
