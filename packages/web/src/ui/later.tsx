import { lazy, Suspense, type ComponentType } from 'react';

/** A part of a page that is loaded after it. */
export interface Later<P> {
  /** Draws it; nothing while it is on its way, and at once when it is here. */
  readonly Part: ComponentType<P>;
  readonly load: () => void;
}

/** What is opened seldom, and must not make people wait for the rest. */
export function later<P extends object>(load: () => Promise<ComponentType<P>>): Later<P> {
  let Loaded: ComponentType<P> | null = null;
  const loadOnce = async (): Promise<{ default: ComponentType<P> }> => {
    Loaded ??= await load();
    return { default: Loaded };
  };
  const Waited = lazy(loadOnce);
  return {
    Part: function Part(props: P) {
      if (Loaded) return <Loaded {...props} />;
      return (
        <Suspense fallback={null}>
          <Waited {...props} />
        </Suspense>
      );
    },
    load: () => void loadOnce(),
  };
}
