import { Component, type ReactNode } from "react";

/** A screen that breaks says so, and leaves the rest of the application standing. */
export class Boundary extends Component<{ children: ReactNode }, { error: Error | null }> {
  state = { error: null as Error | null };

  static getDerivedStateFromError(error: Error) {
    return { error };
  }

  render() {
    if (!this.state.error) return this.props.children;
    return (
      <div role="alert" className="mx-auto max-w-md px-6 py-14 text-center">
        <h2 className="text-lg">This screen broke, and it is our fault</h2>
        <p className="mt-1.5 text-soft">{this.state.error.message}</p>
        <p className="mt-1.5">
          Your data is safe.{" "}
          <a className="text-leaf-dark underline" href="/">
            Start afresh
          </a>
        </p>
      </div>
    );
  }
}
