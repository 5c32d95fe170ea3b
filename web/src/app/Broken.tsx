import { Component } from "react";
import { Button } from "react-bootstrap";
import { NotOpened } from "../shared/NotOpened";

interface Props {
  /** Where one is: another page is shown afresh. */
  at: string;
  children: React.ReactNode;
}

interface State {
  error: Error | null;
  at: string;
}

/** Shows pages; one that breaks is not left empty, but says so and how to go on. */
export class Broken extends Component<Props, State> {
  state: State = { error: null, at: this.props.at };

  static getDerivedStateFromError(error: unknown) {
    return { error: error instanceof Error ? error : new Error(String(error)) };
  }

  static getDerivedStateFromProps({ at }: Props, state: State) {
    return at === state.at ? null : { error: null, at };
  }

  render() {
    const { error } = this.state;
    if (!error) return this.props.children;
    return (
      <NotOpened sentence={`This page broke down (${error.message}). What was saved is safe.`}>
        <Button size="sm" variant="plain" onClick={() => location.reload()}>
          Load it anew
        </Button>
      </NotOpened>
    );
  }
}
