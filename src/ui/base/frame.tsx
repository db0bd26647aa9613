"use client";

import { Link } from "@/ui/base/link";
import { usePathname, useRouter } from "next/navigation";
import { DropdownMenu } from "radix-ui";
import { send } from "@/ui/base/ask";

const PLACES = [
  { href: "/", name: "Fleet" },
  { href: "/jobs", name: "Jobs" },
  { href: "/bench/1", name: "Bench" },
  { href: "/boards", name: "Boards" },
  { href: "/compare", name: "Compare" },
  { href: "/firmware", name: "Firmware" },
] as const;

const isHere = (path: string, href: string) =>
  href === "/"
    ? path === "/" || path.startsWith("/aircraft") || path.startsWith("/backups")
    : path.startsWith(href.replace(/\/1$/, ""));

export function Brand() {
  return (
    <Link
      href="/"
      className="flex items-center gap-2 font-head text-lg font-[640] tracking-[-.01em] text-ink no-underline"
    >
      <svg width="24" height="24" viewBox="0 0 24 24" aria-hidden="true" className="text-reed">
        <path d="M12 22V9" stroke="currentColor" strokeWidth="2.4" />
        <path
          d="M12 12C12 7 8 5 3.5 5 3.5 10 7 12 12 12zM12 9c0-4.5 3.5-6.5 8.5-6.5C20.500 7.500 17 9 12 9z"
          fill="currentColor"
        />
        <path d="M5 22h14" stroke="var(--ink)" strokeWidth="2" />
      </svg>
      Fresh Start
    </Link>
  );
}

const OWN_PLACES = [
  { href: "/me", text: "Your account", lead: false },
  { href: "/people", text: "People and sign-ins", lead: true },
  { href: "/keeping", text: "Copies and the record", lead: true },
] as const;

const ITEM = "block cursor-pointer rounded-base px-3 py-1.5 text-sm outline-none data-highlighted:bg-water-wash";

export function AccountMenu({ name, role }: { readonly name: string; readonly role: string }) {
  const router = useRouter();
  const theme = (wanted: "light" | "dark" | undefined) => {
    if (wanted) document.documentElement.dataset.theme = wanted;
    else delete document.documentElement.dataset.theme;
    document.cookie = `theme=${wanted ?? ""}; path=/; max-age=${wanted ? 31_536_000 : 0}; samesite=lax`;
  };
  return (
    <DropdownMenu.Root modal={false}>
      <DropdownMenu.Trigger className="min-h-8 rounded-base px-2 hover:bg-paper">{name}</DropdownMenu.Trigger>
      <DropdownMenu.Portal>
        <DropdownMenu.Content align="end" className="z-30 min-w-48 border border-edge bg-sheet p-1 text-ink">
          <DropdownMenu.Label className="px-3 py-1.5 text-sm text-faded">Signed in as {role}</DropdownMenu.Label>
          <DropdownMenu.Item className={ITEM} onSelect={() => theme("light")}>
            Light paper
          </DropdownMenu.Item>
          <DropdownMenu.Item className={ITEM} onSelect={() => theme("dark")}>
            Dark paper
          </DropdownMenu.Item>
          <DropdownMenu.Item className={ITEM} onSelect={() => theme(undefined)}>
            As the system has it
          </DropdownMenu.Item>
          <DropdownMenu.Separator className="my-1 h-px bg-rule" />
          {OWN_PLACES.filter(({ lead }) => !lead || role === "lead").map(({ href, text }) => (
            <DropdownMenu.Item key={href} className={ITEM} onSelect={() => router.push(href)}>
              {text}
            </DropdownMenu.Item>
          ))}
          <DropdownMenu.Separator className="my-1 h-px bg-rule" />
          <DropdownMenu.Item
            className={ITEM}
            onSelect={() => {
              void send("/api/sign-out", {}).then(() => {
                router.push("/sign-in");
                router.refresh();
              });
            }}
          >
            Sign out
          </DropdownMenu.Item>
        </DropdownMenu.Content>
      </DropdownMenu.Portal>
    </DropdownMenu.Root>
  );
}

export function Places() {
  const path = usePathname();
  return (
    <nav
      aria-label="Places"
      className="flex flex-wrap gap-x-5 max-sm:order-last max-sm:w-full max-sm:flex-nowrap max-sm:gap-x-3 max-sm:overflow-x-auto max-sm:text-[15px]"
    >
      {PLACES.map(({ href, name }) => {
        const here = isHere(path, href);
        return (
          <Link
            key={href}
            href={href}
            {...(here ? { "aria-current": "page" as const } : {})}
            className={`border-b-3 px-0.5 pt-[15px] pb-3 whitespace-nowrap text-ink no-underline max-sm:pt-2.5 max-sm:pb-2 ${here ? "border-ink font-semibold" : "border-transparent hover:border-rule"}`}
          >
            {name}
          </Link>
        );
      })}
    </nav>
  );
}
