import NextLink from "next/link";
import type { ComponentProps } from "react";

/**
 * A link within the product. Nothing is fetched before it is followed: what lies behind it is made for whoever asks, so that a
 * page of fifty links would ask the server for fifty pages that nobody looks at.
 */
export const Link = (props: ComponentProps<typeof NextLink>) => <NextLink prefetch={false} {...props} />;
