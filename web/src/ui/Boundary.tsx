import { Component, type ReactNode } from "react";
import i18next from "../words/i18n";

/** Catches what breaks a page: says that nothing is lost, and offers to open it again. */
export class Boundary extends Component<{ children: ReactNode }, { broken: boolean }> {
  state = { broken: false };

  static getDerivedStateFromError() {
    return { broken: true };
  }

  componentDidCatch(error: unknown) {
    console.error(error);
  }

  render() {
    if (!this.state.broken) return this.props.children;
    return (
      <div className="empty" role="alert">
        <p>{i18next.t("app.broken")}</p>
        <button type="button" className="link" onClick={() => location.reload()}>
          {i18next.t("app.reload")}
        </button>
      </div>
    );
  }
}
