const KEY = "my name";

/** Who works at this browser, as they named themselves; there are no accounts yet. */
export const me = (): string => localStorage.getItem(KEY) ?? "";

export const callMe = (name: string): void => localStorage.setItem(KEY, name.trim());
