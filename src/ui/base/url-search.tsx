"use client";

import { useRouter, useSearchParams } from "next/navigation";
import { useEffect, useRef, useState } from "react";
import { FIELD_LOOK } from "@/ui/base/parts";

/** The server is asked when somebody stopped typing for so long. */
const PAUSE_MS = 250;

/** A search that stands in the URL as `q`; the server gives what fits, from the first page on. */
export function UrlSearch({ label, value }: { readonly label: string; readonly value: string }) {
  const router = useRouter();
  const params = useSearchParams();
  const [text, setText] = useState(value);
  const timer = useRef<ReturnType<typeof setTimeout>>(undefined);
  useEffect(() => () => clearTimeout(timer.current), []);
  const ask = (wanted: string) => {
    const next = new URLSearchParams(params);
    next.delete("page");
    if (wanted === "") next.delete("q");
    else next.set("q", wanted);
    router.replace(`?${next.toString()}`, { scroll: false });
  };
  return (
    <input
      type="search"
      aria-label={label}
      placeholder="Search"
      value={text}
      maxLength={80}
      className={`${FIELD_LOOK.plain} w-44 text-sm placeholder:text-faded`}
      onChange={(event) => {
        const wanted = event.target.value;
        setText(wanted);
        clearTimeout(timer.current);
        timer.current = setTimeout(() => ask(wanted), PAUSE_MS);
      }}
    />
  );
}
