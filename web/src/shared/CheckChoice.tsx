import { Form } from "react-bootstrap";

interface CheckChoiceProps {
  id: string;
  label: string;
  checked: boolean;
  onChange: (checked: boolean) => void;
}

/** Something that is wished or not. */
export function CheckChoice({ id, label, checked, onChange }: CheckChoiceProps) {
  return (
    <Form.Check
      id={id}
      className="mb-2"
      label={label}
      checked={checked}
      onChange={(event) => onChange(event.currentTarget.checked)}
    />
  );
}
