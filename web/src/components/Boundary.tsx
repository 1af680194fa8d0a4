import type { ReactNode } from "react";
import { ErrorBoundary, type FallbackProps } from "react-error-boundary";
import { useLocation } from "react-router";
import { Button } from "./Button";

/** What browsers say when a part of the application is no longer there: it was updated since this page was loaded. */
const OUTDATED = /dynamically imported module|importing a module script|error loading dynamically/i;

function Broken({ error, resetErrorBoundary }: FallbackProps) {
  const message = error instanceof Error ? error.message : String(error);
  const outdated = OUTDATED.test(message);
  return (
    <div role="alert" className="mx-auto max-w-md px-6 py-14 text-center">
      <h1 className="text-lg">
        {outdated ? "This screen could not be loaded" : "This screen broke, and it is our fault"}
      </h1>
      <p className="mt-1.5 text-soft">
        {outdated ? "Open Acorn was updated, or the connection was lost. Reload the page." : message}
      </p>
      <p className="my-2">Your data is safe.</p>
      {outdated ? (
        <Button onClick={() => location.reload()}>Reload</Button>
      ) : (
        <Button onClick={resetErrorBoundary}>Try again</Button>
      )}
    </div>
  );
}

/** A screen that breaks says so, and leaves the rest of the application standing; going elsewhere leaves it behind. */
export function Boundary({ children }: { children: ReactNode }) {
  const { pathname } = useLocation();
  return (
    <ErrorBoundary FallbackComponent={Broken} resetKeys={[pathname]}>
      {children}
    </ErrorBoundary>
  );
}
