/** Where a picture of a business's site is; `at` makes it a new address when it is taken anew. */
export const pictureOf = (id: number, kind: string, at: string | undefined): string =>
  `/api/businesses/${id}/pictures/${kind}?${encodeURIComponent(at ?? "")}`;
