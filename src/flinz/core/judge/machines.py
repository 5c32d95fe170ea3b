"""What prints: processes and made-up machines, with what each of them holds."""

from pydantic import BaseModel


class Machine(BaseModel):
    """A process, or one machine of it.

    thinnest, narrowest: line and gap that hold, mm. coarsest, finest: rulings to the cm. inks: how
    many it prints. width, height: its largest sheet, mm, either way round. greys: whether it prints
    them as they are.
    """

    name: str
    label: str
    thinnest: float
    narrowest: float
    coarsest: float
    finest: float
    inks: int
    width: float
    height: float
    greys: bool = False

    def ruling_near(self, ruling: float) -> float:
        """The ruling it holds that is nearest to one, to the cm."""
        return min(max(ruling, self.coarsest), self.finest)


MACHINES = (
    Machine(
        name="screen-cloth",
        label="Screen print on cloth",
        thinnest=0.35,
        narrowest=0.45,
        coarsest=8,
        finest=18,
        inks=6,
        width=400,
        height=500,
    ),
    Machine(
        name="screen-paper",
        label="Screen print on paper",
        thinnest=0.2,
        narrowest=0.25,
        coarsest=10,
        finest=26,
        inks=8,
        width=700,
        height=1000,
    ),
    Machine(
        name="stencil",
        label="Stencil duplicator",
        thinnest=0.15,
        narrowest=0.2,
        coarsest=12,
        finest=28,
        inks=4,
        width=297,
        height=420,
        greys=True,
    ),
    Machine(
        name="laser",
        label="Laser printer",
        thinnest=0.09,
        narrowest=0.12,
        coarsest=12,
        finest=40,
        inks=1,
        width=210,
        height=297,
        greys=True,
    ),
    Machine(
        name="offset",
        label="Offset",
        thinnest=0.08,
        narrowest=0.1,
        coarsest=20,
        finest=80,
        inks=4,
        width=720,
        height=1020,
        greys=True,
    ),
    Machine(
        name="stamp",
        label="Rubber stamp",
        thinnest=0.3,
        narrowest=0.35,
        coarsest=4,
        finest=12,
        inks=1,
        width=80,
        height=120,
    ),
    Machine(
        name="vinyl",
        label="Cut vinyl",
        thinnest=1.0,
        narrowest=0.8,
        coarsest=1,
        finest=3,
        inks=3,
        width=600,
        height=2000,
    ),
    Machine(
        name="plotter",
        label="Pen plotter",
        thinnest=0.25,
        narrowest=0.25,
        coarsest=4,
        finest=18,
        inks=6,
        width=297,
        height=420,
    ),
    Machine(
        name="transfer",
        label="Painter's transfer",
        thinnest=0.3,
        narrowest=0.5,
        coarsest=4,
        finest=12,
        inks=2,
        width=1500,
        height=2500,
        greys=True,
    ),
    Machine(
        name="shed-press",
        label="The hand press in the Quillmere shed",
        thinnest=0.4,
        narrowest=0.5,
        coarsest=6,
        finest=14,
        inks=3,
        width=320,
        height=450,
    ),
    Machine(
        name="school-duplicator",
        label="The school's old duplicator",
        thinnest=0.25,
        narrowest=0.3,
        coarsest=12,
        finest=22,
        inks=2,
        width=297,
        height=420,
        greys=True,
    ),
)


def machine_named(name: str) -> Machine | None:
    """A machine by its name; None if there is none."""
    return next((each for each in MACHINES if each.name == name), None)
