"""Reads a timeline in a process of its own: one that refers to itself ends whoever reads it.

Run as a program with the path of the file and how many are looked for; prints JSON: `{"urls": […]}`, or `{"why": "…"}`.
Imports nothing of ours.
"""

import json
import sys
from collections.abc import Iterator
from pathlib import Path

import opentimelineio as otio


def urls_in(data: bytes, most: int) -> list[str]:
    """Of every media of every clip, in their order; of a sequence of pictures each.

    most: it may be over when there are more. Raises ValueError with why it cannot be read.
    """
    try:
        json.loads(data)  # what is nested too deeply ends here
        read = otio.adapters.read_from_string(data.decode(), "otio_json")
        if not hasattr(read, "find_clips"):
            raise ValueError("there are no clips in it")
        found: list[str] = []
        for clip in read.find_clips():
            for reference in clip.media_references().values():
                found += _urls(reference, most)
                if len(found) > most:
                    return found
    except RecursionError as error:
        raise ValueError("it is nested too deeply") from error
    except (KeyError, otio.exceptions.OTIOError) as error:
        raise ValueError(str(error).splitlines()[0][:100]) from error
    return found


def _urls(reference: otio.core.MediaReference, most: int) -> Iterator[str]:
    if isinstance(reference, otio.schema.ExternalReference):
        yield reference.target_url
    elif isinstance(reference, otio.schema.ImageSequenceReference) and reference.available_range:
        for number in range(min(reference.number_of_images_in_sequence(), most + 1)):
            yield reference.target_url_for_image_number(number)


if __name__ == "__main__":
    try:
        told = {"urls": urls_in(Path(sys.argv[1]).read_bytes(), int(sys.argv[2]))}
    except ValueError as problem:
        told = {"why": str(problem)}  # type: ignore[dict-item]
    print(json.dumps(told))
