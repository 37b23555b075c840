"""A page that shows clips on any computer, from a stick, without us and without a network."""

from collections.abc import Iterable, Sequence
from dataclasses import dataclass
from html import escape
from urllib.parse import quote


@dataclass(frozen=True)
class ClipShown:
    """A clip. says: what its header says, in words. said: marks and notes, each a line

    picture, light: paths beside the page of a picture and of what can be played; empty where there is none
    sound: it is sound alone
    """

    name: str
    says: str
    said: Sequence[str]
    picture: str
    light: str
    sound: bool


def page(title: str, made: str, clips: Iterable[ClipShown]) -> str:
    """HTML that names nothing but files beside it. made: by whom and when, in words.

    >>> '<script>' in page("<script>", "", [])[:600]
    False
    """
    shown = list(clips)
    rows = "\n".join(_row(clip) for clip in shown)
    count = "1 clip" if len(shown) == 1 else f"{len(shown):,} clips"
    return _PAGE.format(title=escape(title), made=escape(made), count=count, rows=rows)


def _row(clip: ClipShown) -> str:
    said = "".join(f"<p class=said>{escape(line)}</p>" for line in clip.said)
    words = escape(" ".join((clip.name, clip.says, *clip.said)).lower(), quote=True)
    return (
        f'<li data-words="{words}">{_seen(clip)}<div><h2>{escape(clip.name)}</h2>'
        f"<p class=soft>{escape(clip.says)}</p>{said}</div></li>"
    )


def _seen(clip: ClipShown) -> str:
    name = escape(clip.name, quote=True)
    poster = f' poster="{_at(clip.picture)}"' if clip.picture else ""
    if clip.light and clip.sound:
        return f'<audio controls preload=none src="{_at(clip.light)}" aria-label="{name}"></audio>'
    if clip.light:
        return f'<video controls preload=none{poster} src="{_at(clip.light)}" aria-label="{name}"></video>'
    if clip.picture:
        return f'<a href="{_at(clip.picture)}"><img loading=lazy src="{_at(clip.picture)}" alt="{name}"></a>'
    return "<span class=none>no picture of it was made</span>"


def _at(path: str) -> str:
    return escape(quote(path), quote=True)


_PAGE = """<!doctype html>
<html lang=en>
<meta charset=utf-8>
<meta name=viewport content="width=device-width">
<title>{title}</title>
<style>
body {{ margin: 0 auto; padding: 1rem; max-width: 70rem; background: #f5f0e4; color: #14181b;
  font: 1rem/1.45 "Atkinson Hyperlegible", Verdana, sans-serif }}
h1 {{ margin: 0; font-size: 1.8rem }} h2 {{ margin: 0; font-size: 1.1rem; overflow-wrap: anywhere }}
p {{ margin: .2rem 0 }} .soft {{ color: #4c5357 }} .said {{ padding-left: .6rem; border-left: 4px solid #8a5300 }}
label {{ display: grid; gap: .2rem; margin: 1rem 0; font-weight: 700 }}
input {{ padding: .5rem; border: 2px solid; font: inherit }}
ul {{ margin: 0; padding: 0; list-style: none }}
li {{ display: grid; grid-template-columns: minmax(0, 20rem) minmax(0, 1fr); gap: 1rem; padding: .8rem 0;
  border-top: 1px solid #9a9484 }}
video, img, audio {{ width: 100% }}
.none {{ color: #4c5357 }}
li[hidden] {{ display: none }}
@media (max-width: 40rem) {{ li {{ grid-template-columns: 1fr }} }}
</style>
<h1>{title}</h1>
<p class=soft>{made} {count}. What is shown here is for looking: none of it is a copy of a recording.</p>
<label hidden>Find <input type=search></label>
<ul>
{rows}
</ul>
<script>
const box = document.querySelector('input'), all = [...document.querySelectorAll('li')]
box.parentElement.hidden = false
box.addEventListener('input', () => {{
  const words = box.value.toLowerCase().split(/\\s+/)
  for (const one of all) one.hidden = !words.every((word) => one.dataset.words.includes(word))
}})
</script>
</html>
"""
