import { Problem } from "../api/client";

/** Marks a field that the application refused: `{...marks(save.error, "name")}`. */
export const marks = (error: Error | null | undefined, ...fields: string[]) =>
  error instanceof Problem &&
  fields.some((field) => error.where === field || error.where.startsWith(`${field}.`))
    ? { "aria-invalid": true as const }
    : {};
