"use client";

import { PageTrouble } from "@/ui/base/page-trouble";

const again = () => window.location.reload();

/** Where not even the frame of the pages could be made. */
export default function FrameError() {
  return <PageTrouble again={again} />;
}
