import { LinkButton } from "@/ui/base/parts";

export default function NotFound() {
  return (
    <div className="mx-auto mt-16 max-w-md">
      <h1>There is nothing at this address.</h1>
      <p className="mt-2 mb-4">
        The aircraft, job or backup may have another number, or the link was cut off when it was copied.
      </p>
      <LinkButton href="/" look="main">
        To the fleet
      </LinkButton>
    </div>
  );
}
