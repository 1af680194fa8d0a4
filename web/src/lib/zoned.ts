/** A moment of a date and time box ("2026-12-01T14:30") with this machine's time zone, as the application takes it. */
export function zoned(local: string): string {
  const minutes = -new Date(local).getTimezoneOffset();
  const two = (value: number) => String(Math.floor(value)).padStart(2, "0");
  const size = Math.abs(minutes);
  return `${local}:00${minutes < 0 ? "-" : "+"}${two(size / 60)}:${two(size % 60)}`;
}
