/** A part of the page that may fail by itself: what went wrong is said there, and everything round it stays. */
import { Component, type ErrorInfo, type ReactNode } from "react";

interface Props {
  /** What it is, for the words: "The section". */
  name: string;
  /** What it is shown for: when that changes, it is tried again. */
  of?: unknown;
  children: ReactNode;
}

export class Region extends Component<Props, { wrong: string | null; of: unknown }> {
  override state = { wrong: null as string | null, of: this.props.of };

  static getDerivedStateFromError(error: unknown) {
    return { wrong: error instanceof Error ? error.message : String(error) };
  }

  static getDerivedStateFromProps(props: Props, state: { wrong: string | null; of: unknown }) {
    return Object.is(props.of, state.of) ? null : { wrong: null, of: props.of };
  }

  override componentDidCatch(error: unknown, info: ErrorInfo) {
    console.error(error, info.componentStack);
  }

  override render() {
    if (this.state.wrong === null) return this.props.children;
    return (
      <div role="alert" className="m-3 border-4 border-over bg-tint p-3 text-body" data-testid="region-failed">
        <p className="font-semibold text-over">◆ {this.props.name} can not be shown.</p>
        <p>Nothing is lost: what was done here is kept on this device and with the server. STOP is where it was.</p>
        <p className="font-label text-quiet">{this.state.wrong}</p>
        <button type="button" className="button mt-2" onClick={() => this.setState({ wrong: null })}>
          Try again
        </button>{" "}
        <button type="button" className="button mt-2" onClick={() => window.location.reload()}>
          Reload the page
        </button>
      </div>
    );
  }
}
