import { Component, type ReactNode } from 'react';

/** Keeps a fault in one part of the window from taking the rest with it. */
export class ErrorBoundary extends Component<{ children: ReactNode }, { fault?: Error }> {
  override state: { fault?: Error } = {};

  static getDerivedStateFromError(fault: Error) {
    return { fault };
  }

  override render() {
    if (!this.state.fault) {
      return this.props.children;
    }
    return (
      <div className="p-6">
        <p>This part of the window failed: {this.state.fault.message}</p>
        <button className="underline" onClick={() => this.setState({ fault: undefined })}>
          Try again
        </button>
      </div>
    );
  }
}
