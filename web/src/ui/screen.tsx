import { type ComponentType, type LazyExoticComponent, lazy } from "react";

/** A screen that is loaded when it is needed, together with the component library. */
export function screen<P extends object>(load: () => Promise<{ default: ComponentType<P> }>): LazyExoticComponent<ComponentType<P>> {
  return lazy(async () => {
    const [{ Themed }, { default: Screen }] = await Promise.all([import("./Themed"), load()]);
    // biome-ignore lint/correctness/noComponentHookFactories: made once, when the screen is loaded
    const ThemedScreen = (props: P) => (
      <Themed>
        <Screen {...props} />
      </Themed>
    );
    return { default: ThemedScreen };
  });
}
