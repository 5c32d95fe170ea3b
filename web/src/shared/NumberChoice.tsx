import { Form, InputGroup } from "react-bootstrap";
import { NumberField, type NumberFieldProps } from "./NumberField";

/** A number with its label beside it. */
export function NumberChoice(props: Omit<NumberFieldProps, "id">) {
  const id = `choice-${props.label.toLowerCase().replace(/[^a-z]+/g, "-")}`;
  return (
    <InputGroup size="sm" className="number-choice">
      <Form.Label htmlFor={id}>{props.label}</Form.Label>
      <NumberField {...props} id={id} />
    </InputGroup>
  );
}
