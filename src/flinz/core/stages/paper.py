"""Paper: what a sheet is printed on, and how large it is."""

from flinz.core.dial import Colour, Dial, Settings


class Paper(Settings):
    """Size and colour of the sheet."""

    long_edge: float = Dial(
        200.0,
        ge=10.0,
        le=2000.0,
        low=20.0,
        high=600.0,
        step=1.0,
        unit="mm",
        label="Long edge",
        hint="Size of the drawing on paper",
    )
    colour: str = Colour("#ffffff", label="Paper", hint="The colour of the paper")
