import { Button, ButtonGroup, Form } from "react-bootstrap";
import { SHAPES, type Shape } from "./crops";
import type { Cropping } from "./useCropping";

/** How the photo is cropped and turned; the frame itself lies on the sheet. */
export function CropFace({ cropping }: { cropping: Cropping }) {
  return (
    <div className="crop-face">
      <div className="crop-acts">
        {cropping.isOn ? (
          <>
            <Button size="sm" onClick={cropping.take}>
              Take this part
            </Button>
            <Button size="sm" variant="plain" onClick={cropping.leave}>
              Leave it
            </Button>
          </>
        ) : (
          <Button size="sm" variant="plain" onClick={cropping.begin}>
            Crop…
          </Button>
        )}
        <ButtonGroup size="sm" aria-label="Turn the photo">
          <Button variant="plain" onClick={() => cropping.turn(1)}>
            ↺ Turn left
          </Button>
          <Button variant="plain" onClick={() => cropping.turn(-1)}>
            ↻ Turn right
          </Button>
        </ButtonGroup>
      </div>
      {cropping.isOn && (
        <>
          <Form.Group controlId="crop-shape">
            <Form.Label>Shape</Form.Label>
            <Form.Select
              size="sm"
              value={cropping.shape}
              onChange={(event) => cropping.choose(event.currentTarget.value as Shape)}
            >
              {SHAPES.map(([name, label]) => (
                <option key={name} value={name}>
                  {label}
                </option>
              ))}
            </Form.Select>
          </Form.Group>
          <Form.Check
            type="switch"
            id="crop-fill"
            label="Fill the paper with this part, instead of trimming the paper"
            checked={cropping.way === "fill"}
            onChange={(event) => cropping.setWay(event.currentTarget.checked ? "fill" : "trim")}
          />
          <Button
            size="sm"
            variant="plain"
            active={cropping.isLevelling}
            aria-pressed={cropping.isLevelling}
            onClick={() => cropping.setLevelling(!cropping.isLevelling)}
          >
            Draw a line that should be level or upright
          </Button>
        </>
      )}
    </div>
  );
}
