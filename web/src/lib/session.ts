import { me as named } from "./me";

/** What belongs to this browser's session and is sent with each change; "" without accounts. */
let token = "";
let signedIn = "";
let leave = () => {};

export const csrf = (): string => token;

/** Who acts: the person who is signed in, else how they named themselves. */
export const author = (): string => signedIn || named();

export function keepSession(csrfToken: string, name: string) {
  token = csrfToken;
  signedIn = name;
}

/** What is done when the application says that nobody is signed in any more. */
export const onSignedOut = (then: () => void) => {
  leave = then;
};

export const signedOut = () => leave();
