import { Component, lazy, Suspense, useState, type ComponentType, type ReactNode } from "react";
import { Button } from "./Button";

const parts: (() => Promise<unknown>)[] = [];

/** ahead notes what is loaded when it is first wanted, or before that when the browser has nothing else to do. */
export function ahead<T>(load: () => Promise<T>): () => Promise<T> {
  parts.push(load);
  return load;
}

/** later is a component that is loaded when it is first shown, or ahead of that. What cannot be loaded says so in its place, and takes
 * nothing else along. */
export function later<P extends object>(load: () => Promise<ComponentType<P>>) {
  let loaded: ComponentType<P> | undefined;
  const once = ahead(async () => ({ default: (loaded = await load()) }));
  const Part = lazy(once) as ComponentType<P>;
  return function Later(given: P) {
    const [Ready] = useState(() => loaded); // what is there is shown at once, so that no key is lost on the way
    if (Ready) return <Ready {...given} />;
    return (
      <NotLoaded>
        <Suspense fallback={null}>
          <Part {...given} />
        </Suspense>
      </NotLoaded>
    );
  };
}

/** loadAhead loads what was left for later, part by part, so that it is there at once when it is wanted, and without a connection too. */
export function loadAhead() {
  const idle = window.requestIdleCallback ?? ((run: () => void) => setTimeout(run, 200));
  const next = (at: number) => {
    if (at < parts.length) idle(() => void parts[at]!().finally(() => next(at + 1)));
  };
  next(0);
}

class NotLoaded extends Component<{ children: ReactNode }, { failed: boolean }> {
  override state = { failed: false };
  static getDerivedStateFromError(error: unknown) {
    if (error instanceof TypeError && /import|module|fetch/i.test(error.message)) return { failed: true };
    throw error;
  }
  override render() {
    if (!this.state.failed) return this.props.children;
    return (
      <div role="alert" className="m-auto max-w-md p-6 text-center">
        <p className="mb-3">This part could not be loaded. There may be no connection, or a newer version. What you did is kept.</p>
        <Button onClick={() => window.location.reload()}>Load the page again</Button>
      </div>
    );
  }
}
