"""A film on the home page."""

from openacorn.core.audit.check import Check, Group, OwnersWords
from openacorn.core.audit.evidence import Pages
from openacorn.core.audit.finding import Evidence, Finding, gap, ok
from openacorn.core.audit.readable import hidden


def evaluate(pages: Pages) -> Finding:
    """A player of its own or an embedded one; a mere link to a film does not count."""
    page = pages.home
    if page.content.videos:
        film = page.content.videos[0]
        return ok(film.value, f"a film, {film.how}", Evidence(page.url, page.at, film.snippet))
    return hidden(page) or gap(None, "no film on the home page", Evidence(page.url, page.at, "no player in the source"))


CHECK = Check(
    id="video",
    group=Group.CONTENT,
    title="Video on home page",
    why="Half a minute of video shows the place, the people and the work better than text.",
    needs=(Pages,),
    evaluate=evaluate,
    weight=0.5,
    owner=OwnersWords(
        topic="A video on the home page",
        claim="Your home page has no video.",
        remedy="Record half a minute in your business.",
    ),
)
