"""One description of a dial: limits, range, step, unit and hint live on the parameter itself."""

from collections.abc import Mapping
from enum import StrEnum
from functools import cached_property
from typing import Any, Literal, Self

from pydantic import BaseModel, ConfigDict, Field


class Settings(BaseModel):
    """Base of every parameter model: frozen, and unknown fields are refused."""

    model_config = ConfigDict(frozen=True, extra="forbid")

    @cached_property
    def said(self) -> str:
        """All that it says, as JSON; worked out once."""
        return self.model_dump_json()

    def __copy__(self) -> Self:
        copied = super().__copy__()
        # What is copied is to be changed.
        copied.__dict__.pop("said", None)
        return copied


def Dial(  # noqa: N802  (reads as a type at its place of use)
    default: float,
    *,
    ge: float,
    le: float,
    step: float,
    hint: str,
    label: str,
    unit: str = "",
    low: float | None = None,
    high: float | None = None,
    only_for: dict[str, list[str]] | None = None,
    group: str = "",
    mm_of_one: dict[str, float] | None = None,
    mm_times: str = "",
    idle_at: dict[str, float] | None = None,
) -> Any:
    """A number a person turns.

    ge and le are hard limits; low and high, within them, are the ends of the track (they default
    to the limits). unit is "mm", "mm²", "°", "px" or "" for plain 0..1 values. only_for: values of
    a choice of the same model without which the dial does nothing. group: a heading under which
    a page may gather dials. mm_of_one: of a multiple, how many mm once is, by the value of that
    choice, so that a page can show and take mm; mm_times: the dial that multiplies these. idle_at:
    values of other dials of the model; while all stand there, this one does nothing.
    """
    track: dict[str, Any] = {
        "kind": "dial",
        "low": ge if low is None else low,
        "high": le if high is None else high,
        "step": step,
        "unit": unit,
        "only_for": only_for or {},
        "group": group,
        "mm_of_one": mm_of_one or {},
        "mm_times": mm_times,
        "idle_at": idle_at or {},
    }
    return Field(
        default,
        ge=ge,
        le=le,
        allow_inf_nan=False,
        title=label,
        description=hint,
        json_schema_extra={"dial": track},
    )


def Angle(  # noqa: N802
    default: float,
    *,
    hint: str,
    label: str = "Angle",
    low: float = 0.0,
    high: float = 180.0,
    only_for: dict[str, list[str]] | None = None,
    group: str = "",
    idle_at: dict[str, float] | None = None,
) -> Any:
    """A direction in degrees, counter-clockwise from the x axis."""
    return Dial(
        default,
        ge=-180.0,
        le=180.0,
        low=low,
        high=high,
        step=1.0,
        unit="°",
        label=label,
        hint=hint,
        only_for=only_for,
        group=group,
        idle_at=idle_at,
    )


class OptionSpec(BaseModel):
    """One value of a choice in words: what it does to ink, and its standard name if any."""

    name: str
    label: str
    hint: str
    also: str = ""


def Choice(  # noqa: N802
    default: StrEnum,
    *,
    hint: str,
    label: str,
    options: Mapping[Any, tuple[str, ...]],
    only_for: dict[str, list[str]] | None = None,
) -> Any:
    """One of a few named values (a StrEnum).

    options: of each member its label, its hint, and its standard name where that is another.
    Raises ValueError if a member has none.
    """
    if set(options) != set(type(default)):
        raise ValueError(f"each value of {label!r} needs its words")
    words: Any = [
        OptionSpec(name=member, label=said[0], hint=said[1], also="".join(said[2:])).model_dump()
        for member, said in options.items()
    ]
    dial: Any = {"kind": "choice", "options": words, "only_for": only_for or {}}
    return Field(default, title=label, description=hint, json_schema_extra={"dial": dial})


def Points(*, hint: str, label: str, group: str = "", most: int) -> Any:  # noqa: N802
    """Points on a ring, up to so many; none to begin with."""
    return Field(
        (),
        max_length=most,
        title=label,
        description=hint,
        json_schema_extra={"dial": {"kind": "ring", "group": group, "maximum": most}},
    )


def Switch(  # noqa: N802
    default: bool,
    *,
    hint: str,
    label: str,
    group: str = "",
    only_for: dict[str, list[str]] | None = None,
) -> Any:
    """On or off."""
    dial: Any = {"kind": "switch", "group": group, "only_for": only_for or {}}
    return Field(default, title=label, description=hint, json_schema_extra={"dial": dial})


def Colour(  # noqa: N802
    default: str, *, hint: str, label: str, only_for: dict[str, list[str]] | None = None
) -> Any:
    """A colour written #rrggbb, sRGB."""
    dial: dict[str, Any] = {"kind": "colour", "only_for": only_for or {}}
    return Field(
        default,
        pattern=r"^#[0-9a-fA-F]{6}$",
        title=label,
        description=hint,
        json_schema_extra={"dial": dial},
    )


class DialSpec(BaseModel):
    """What a page or a manual needs to know to show one dial."""

    name: str
    kind: Literal["dial", "choice", "switch", "colour", "ring"]
    label: str
    hint: str
    start: float | bool | str | tuple[()]
    unit: str = ""
    minimum: float = 0.0
    maximum: float = 1.0
    low: float = 0.0
    high: float = 1.0
    step: float = 0.01
    options: list[OptionSpec] = []
    only_for: dict[str, list[str]] = {}
    group: str = ""
    mm_of_one: dict[str, float] = {}
    mm_times: str = ""
    idle_at: dict[str, float] = {}


def dials_of(model: type[BaseModel]) -> list[DialSpec]:
    """The dials of a parameter model in their written order, inherited ones last."""
    own = [name for name in model.__annotations__ if name in model.model_fields]
    names = [*own, *(name for name in model.model_fields if name not in own)]
    return [
        dial_of(model, name)
        for name in names
        if isinstance(extra := model.model_fields[name].json_schema_extra, dict) and "dial" in extra
    ]


def dial_of(model: type[BaseModel], name: str) -> DialSpec:
    """The dial of that name of a parameter model. Raises KeyError."""
    return _spec(name, model.model_fields[name])


def held(model: type[BaseModel], name: str, value: float) -> float:
    """A value as near as the limits of the dial of that name allow. Raises KeyError."""
    dial = dial_of(model, name)
    return min(dial.maximum, max(dial.minimum, value))


def _spec(name: str, field: Any) -> DialSpec:
    extra = dict(field.json_schema_extra["dial"])
    limits = {
        key: getattr(limit, short)
        for limit in field.metadata
        for key, short in (("minimum", "ge"), ("maximum", "le"))
        if hasattr(limit, short)
    }
    return DialSpec(
        name=name,
        label=field.title,
        hint=field.description,
        start=field.default,
        **limits,
        **extra,
    )
