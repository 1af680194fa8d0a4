/** What stands where something will be in a moment; a test or a screen reader knows by it that the page is not whole yet. */
export function Loading({ what = "", className = "" }: { what?: string; className?: string }) {
  return (
    <p role="status" aria-busy="true" className={`text-soft ${className}`}>
      Loading {what && `${what} `}…
    </p>
  );
}
