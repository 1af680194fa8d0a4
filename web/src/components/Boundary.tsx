import type { ReactNode } from "react";
import { ErrorBoundary, type FallbackProps } from "react-error-boundary";
import { useLocation } from "react-router";
import { Button } from "./Button";

function Broken({ error, resetErrorBoundary }: FallbackProps) {
  return (
    <div role="alert" className="mx-auto max-w-md px-6 py-14 text-center">
      <h1 className="text-lg">This screen broke, and it is our fault</h1>
      <p className="mt-1.5 text-soft">{error instanceof Error ? error.message : String(error)}</p>
      <p className="my-2">Your data is safe.</p>
      <Button onClick={resetErrorBoundary}>Try again</Button>
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
