import { Link } from "@/ui/base/link";
import type { ReactNode } from "react";
import { BUTTON_LOOK } from "@/ui/base/parts";

/** The way to the pages before and after; nothing where there is only one. */
export function Pager({
  label,
  page,
  pages,
  hrefOf,
}: {
  readonly label: string;
  readonly page: number;
  readonly pages: number;
  readonly hrefOf: (page: number) => string;
}) {
  if (pages <= 1) return null;
  return (
    <nav aria-label={label} className="flex flex-wrap items-center gap-3 text-sm">
      <Turn href={page > 1 ? hrefOf(page - 1) : undefined}>Back</Turn>
      <span>
        Page {page} of {pages}
      </span>
      <Turn href={page < pages ? hrefOf(page + 1) : undefined}>Next</Turn>
    </nav>
  );
}

const Turn = ({ href, children }: { readonly href: string | undefined; readonly children: ReactNode }) =>
  href === undefined ? (
    <span className={`${BUTTON_LOOK.plain} opacity-50`} aria-disabled="true">
      {children}
    </span>
  ) : (
    <Link href={href} className={BUTTON_LOOK.plain}>
      {children}
    </Link>
  );
