"""A website's copy as a file for people who write: Markdown or DOCX, each paragraph with where it is from."""

import io

from openacorn.core.starter.draft import PAGES, Paragraph, SiteDraft

ORIGINS = {"website": "from the old website", "facts": "from", "agency": "written by the agency", "ask": "to be asked"}


def origin_of(paragraph: Paragraph) -> str:
    """Where a paragraph is from, in words."""
    said = ORIGINS[paragraph.origin]
    return f"{said} {paragraph.where}".strip() if paragraph.origin in {"website", "facts"} else said


def as_markdown(draft: SiteDraft) -> str:
    """The copy by pages (CommonMark)."""
    lines = [f"# {draft.facts.name}", ""]
    for page, title in PAGES.items():
        lines += [f"## {title}", ""]
        for section in draft.of_page(page):
            lines += [f"### {section.title}", ""]
            for paragraph in section.paragraphs:
                text = f"**{paragraph.title}** {paragraph.text}".strip() if paragraph.title else paragraph.text
                mark = f"*To be asked:* {text}" if paragraph.origin == "ask" else text
                lines += [mark, "", f"<!-- {origin_of(paragraph).replace('--', '- -')} -->", ""]
    return "\n".join(lines)


def as_docx(draft: SiteDraft) -> bytes:
    """The copy by pages (ISO/IEC 29500)."""
    from docx import Document  # heavy, and only this file needs it

    document = Document()
    document.add_heading(draft.facts.name, 0)
    for page, title in PAGES.items():
        document.add_heading(title, 1)
        for section in draft.of_page(page):
            document.add_heading(section.title, 2)
            for paragraph in section.paragraphs:
                line = document.add_paragraph()
                if paragraph.title:
                    line.add_run(f"{paragraph.title} ").bold = True
                line.add_run(paragraph.text).italic = paragraph.origin == "ask"
                line.add_run(f"  [{origin_of(paragraph)}]").font.size = 101600  # 8 points
    out = io.BytesIO()
    document.save(out)
    return out.getvalue()
