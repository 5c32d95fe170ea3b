"""Asking for live pictures, and reading them."""

import json
import struct

import numpy as np


def view(name, **more):
    """A view of the whole sheet at 128 px, or as told."""
    return {"id": name, "what": "sheet", "long_edge_px": 128, **more}


def one_answer(socket):
    """Head and rows (height, width, channels) of the next picture, whatever is said before it."""
    message = socket.receive()
    while "placing" in (message.get("text") or ""):
        message = socket.receive()
    assert message.get("bytes") is not None, message
    data = message["bytes"]
    length = struct.unpack(">I", data[:4])[0]
    head = json.loads(data[4 : 4 + length])
    shape = (head["height"], head["width"], head["channels"])
    return head, np.frombuffer(data[4 + length :], np.uint8).reshape(shape)


def settled_answer(socket):
    """Head and rows of the next picture that is no draft."""
    head, rows = one_answer(socket)
    while head["draft"]:
        head, rows = one_answer(socket)
    return head, rows


def answers(socket, count):
    """So many pictures, by their view."""
    found = {}
    for _ in range(count):
        head, rows = one_answer(socket)
        found[head["view"]] = head, rows
    return found
