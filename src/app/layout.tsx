import type { Metadata } from "next";
import { cookies } from "next/headers";
import type { ReactNode } from "react";
import "./globals.css";

export const metadata: Metadata = {
  title: { default: "Fresh Start", template: "%s · Fresh Start" },
  description: "A flight controller, from what has to be done to signed off",
};

export default async function RootLayout({ children }: { readonly children: ReactNode }) {
  const theme = (await cookies()).get("theme")?.value;
  return (
    <html lang="en" {...(theme === "dark" || theme === "light" ? { "data-theme": theme } : {})}>
      <body>{children}</body>
    </html>
  );
}
