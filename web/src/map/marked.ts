/** The waymark of a spot on a map. */
import styles from "./Map.module.css";
import type { Spot } from "./MapView";

/** An element that marks a spot: a button where something comes of pressing it. */
export function marked(spot: Spot, pressable: boolean, press: () => void): HTMLElement {
  const element = document.createElement(pressable ? "button" : "div");
  element.className = [styles.mark, spot.dim && styles.dim, spot.sort && styles[spot.sort]].filter(Boolean).join(" ");
  const text = document.createElement("span");
  text.textContent = spot.label;
  element.append(text);
  const name = spot.name ?? spot.label;
  if (element instanceof HTMLButtonElement) {
    element.type = "button";
    element.setAttribute("aria-label", name);
    element.addEventListener("click", (e) => {
      e.stopPropagation();
      press();
    });
  } else {
    element.setAttribute("role", "img");
    element.setAttribute("aria-label", name);
  }
  element.title = name;
  return element;
}
