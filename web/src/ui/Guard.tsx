import { Component, type ReactNode } from "react";
import { Button } from "./Button";

interface Props {
  children: ReactNode;
  /** what can be done without is simply not there */
  dispensable?: boolean;
}

/** Where a part of the interface fails, a sentence and a way back instead of an empty page. */
export class Guard extends Component<Props, { failed: boolean }> {
  override state = { failed: false };

  static getDerivedStateFromError() {
    return { failed: true };
  }

  override render() {
    if (!this.state.failed) return this.props.children;
    if (this.props.dispensable) return null;
    return (
      <main role="alert" className="flex flex-col items-start gap-3 p-8">
        <p>This screen could not be shown: something went wrong in Perigram itself. What was saved is safe.</p>
        <Button look="main" onClick={() => location.reload()}>
          Load it again
        </Button>
      </main>
    );
  }
}
