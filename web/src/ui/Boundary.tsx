import { Component, type ReactNode } from "react";
import i18next from "../words/i18n";

interface Props {
  /** where the page is: another one is tried anew */
  at?: string;
  children: ReactNode;
}

/** Catches what breaks a page: says that nothing is lost, and offers to open it again. */
export class Boundary extends Component<Props, { broken: boolean; at?: string }> {
  state = { broken: false, at: this.props.at };

  static getDerivedStateFromError() {
    return { broken: true };
  }

  static getDerivedStateFromProps(props: Props, state: { broken: boolean; at?: string }) {
    return props.at === state.at ? null : { broken: false, at: props.at };
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
