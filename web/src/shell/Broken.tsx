import { Button, Result } from "antd";
import { Component, type ErrorInfo, type ReactNode } from "react";
import { say } from "../shared/say";

/** A page that breaks takes only itself down: it says so, and what was entered and waits is still sent. */
export class Broken extends Component<{ children: ReactNode }, { error: Error | null }> {
  override state: { error: Error | null } = { error: null };

  static getDerivedStateFromError(error: Error): { error: Error } {
    return { error };
  }

  override componentDidCatch(error: Error, info: ErrorInfo): void {
    console.error("page broke", error.message, info.componentStack);
  }

  override render(): ReactNode {
    if (!this.state.error) return this.props.children;
    return (
      <main className="page">
        <Result
          status="error"
          title={say("This page broke")}
          subTitle={say("What you saved is safe, and what still waits is sent. It said: {message}", { message: this.state.error.message })}
          extra={
            <Button type="primary" size="large" onClick={() => window.location.assign("/")}>
              {say("Start again from home")}
            </Button>
          }
        />
      </main>
    );
  }
}
