import { LinkButton } from "@/ui/base/parts";

export default function Forbidden() {
  return (
    <div className="mx-auto mt-16 max-w-md">
      <h1>This page is for leads.</h1>
      <p className="mt-2 mb-4">Ask a lead to do it for you, or for another role.</p>
      <LinkButton href="/" look="main">
        To the fleet
      </LinkButton>
    </div>
  );
}
