export function Bar({ share, label }: { share: number; label: string }) {
  const percent = Math.round(share * 100);
  return (
    <div
      role="progressbar"
      aria-label={label}
      aria-valuenow={percent}
      aria-valuemin={0}
      aria-valuemax={100}
      className="h-2 overflow-hidden rounded-full bg-faint"
    >
      <div className="h-full bg-leaf transition-[width]" style={{ width: `${percent}%` }} />
    </div>
  );
}
