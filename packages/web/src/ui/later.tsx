import { lazy, Suspense, useState, type ComponentType } from 'react';

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
      // Settled at the first drawing: another component in its place would lose what was begun in it.
      const [Ready] = useState<ComponentType<P> | null>(() => Loaded);
      if (Ready) return <Ready {...props} />;
      return (
        <Suspense fallback={null}>
          <Waited {...props} />
        </Suspense>
      );
    },
    load: () => void loadOnce(),
  };
}
