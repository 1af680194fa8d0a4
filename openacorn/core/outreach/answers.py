"""What people write back: their own words without what they quote, and whether they ask not to be written to again."""

import re
import unicodedata
from collections.abc import Mapping

FIRST_WORDS = 60
"""A wish stands at the beginning; further down there are signatures and legal notices."""

_QUOTE_BEGINS = re.compile(
    r"^\s*(?:"
    r"-{2,}\s*(?:original message|ursprüngliche nachricht|message d.origine|mensaje original|messaggio originale|"
    r"oorspronkelijk bericht|mensagem original|forwarded message).*"
    r"|_{10,}"
    r"|(?:on|am|le|el|il|op|em|den|dne|w dniu)\b.{5,120}\b"
    r"(?:wrote|schrieb|a écrit|escribió|ha scritto|schreef|escreveu|skrev|napsal\S*|napisał\S*)\b.{0,80}:?"
    r"|(?:from|von|de|da|van|från|fra|od)\s*:\s*.*@.*"
    r")\s*$",
    re.I,
)
_SIGNATURE = re.compile(r"^-- ?$")

STOP_WORDS = frozenset(
    "stop stopp stoppen arret arreter baja alto cancelar cancella basta remove unsubscribe optout abmelden austragen "
    "desabonner desinscrire uitschrijven afmelden avregistrera afmeld avmeld sair remover descadastrar stopall quit end".split()
)
"""A message of one of these words alone, without accents (those of text messages as carriers require them)."""

OPT_OUT = {
    "en": (
        r"\bunsubscrib|\bopt(?:ing)?[- ]?out\b",
        r"\b(?:take|remove|delete) (?:me|us|my|our|this)\b.{0,40}\b(?:list|database|mail|e-mail|records?|address)",
        r"\bremove (?:me|us)\b|\btake (?:me|us) off\b|\bleave (?:me|us) alone\b",
        r"\b(?:do not|don't|stop|no longer|never) (?:e-?mail|contact|writ|send|call|messag|text|mail|bother|spam)\w*",
        r"\bno (?:more|further) (?:e-?mails?|messages?|mails?|contact)\b",
    ),
    "de": (
        r"\babmeld|\baustragen|\bkeine (?:weiteren?|mehr)? ?(?:e-?mails?|nachrichten|werbung|kontakt)",
        r"\bnicht (?:mehr|weiter|wieder) (?:an)?(?:schreiben|kontaktier|anruf)",
        r"\baus (?:ihrem|dem|eurem) verteiler|\bloschen sie (?:meine|unsere)",
    ),
    "fr": (
        r"\bdes(?:abonn|inscri)|\bne (?:plus|pas) (?:me |nous )?(?:contact|ecri|envoy|recevoir)|\bplus recevoir",
        r"\bne (?:me |nous )?(?:contact|ecri|envoy)\w+ plus|\bretir\w+[- ](?:moi|nous|mon|notre)",
    ),
    "es": (
        r"\bdar(?:me|nos|se)? de baja|\bdenme de baja|\bborr\w+ (?:mi|nuestra?)",
        r"\bno (?:me|nos) (?:contact|escrib|envi|llam)\w*|\bno (?:quiero|deseo|queremos) recibir",
    ),
    "it": (
        r"\bcancell(?:a|at|are|ate)(?:mi|ci)\b|\bdisiscri|\bnon (?:mi |ci )?(?:contatt|scriv|invi)\w+",
        r"\bnon (?:voglio|desidero|vogliamo) (?:piu )?ricevere",
    ),
    "pt": (
        r"\bdescadastr|\bremov(?:a|er|am)[- ](?:me|nos|meu)|\bnao (?:me |nos )?(?:contact|escrev|envi|mand)\w+",
        r"\bnao (?:quero|desejo) (?:mais )?receber|\bcancelar (?:a )?(?:inscricao|subscricao)",
    ),
    "nl": (
        r"\buitschrijv|\bafmeld|\bgeen (?:e-?mails?|berichten|mails?) meer|\bhaal (?:mij|ons|me) van",
        r"\bniet meer (?:mailen|contact|benader|schrijv|bellen)",
    ),
    "others": (
        r"\bavregistrer|\bavprenumerer|\bavmeld|\bframeld|\bwypis|\bnie (?:pisz|kontaktuj|wysyla)|\bodhlas|\bnepis|\bnekontaktuj",
        r"\bleiratkoz|\bdezabon|退订|取消订阅|不要再|配信停止|配信を停止|送らないで|수신거부|отпи[сш]|не пишите|не присыл|διαγραφη",
        r"إلغاء الاشتراك|abonelikten",
    ),
}
"""By language, in lower case and without accents; from memory."""

REFUSAL = {
    "en": (
        r"\bnot interested\b|\bno interest\b|\bno,? thank(?:s| you)\b|\bthanks,? but no\b",
        r"\bwe(?:'re| are) (?:fine|all set)\b|\bnot (?:for us|at this time|right now|needed)\b",
    ),
    "de": (r"\bkein(?:e|en)? (?:interesse|bedarf)|\bnein,? danke",),
    "fr": (r"\bpas interesse|\bnon,? merci",),
    "es": (r"\bno (?:me|nos) interesa|\bno,? gracias",),
    "it": (r"\bnon (?:sono|siamo) interessat|\bno,? grazie",),
    "pt": (r"\bnao (?:tenho|temos) interesse|\bnao,? obrigad",),
    "nl": (r"\bgeen (?:interesse|belangstelling)|\bnee,? (?:dank|bedankt)",),
    "sv": (r"\binte intresserad|\bnej,? tack",),
}


def _any_of(by_language: Mapping[str, tuple[str, ...]]) -> re.Pattern[str]:
    return re.compile("|".join(part for parts in by_language.values() for part in parts))


_OPT_OUT, _REFUSAL = _any_of(OPT_OUT), _any_of(REFUSAL)


def own_words(text: str) -> str:
    """What somebody wrote, without the message that they answer and without their signature."""
    lines: list[str] = []
    rows = text.replace("\r\n", "\n").replace("\r", "\n").split("\n")
    for number, line in enumerate(rows):
        joined = f"{line.strip()} {rows[number + 1].strip()}" if number + 1 < len(rows) else line
        if (
            _SIGNATURE.match(line)
            or _QUOTE_BEGINS.match(line)
            or (line.strip() and line[:1].isalpha() and _QUOTE_BEGINS.match(joined))
        ):
            break
        if not line.lstrip().startswith(">"):
            lines.append(line.rstrip())
    return re.sub(r"\n{3,}", "\n\n", "\n".join(lines)).strip()


def _folded(text: str) -> str:
    """Lower case, without accents, one kind of apostrophe: as the patterns are written."""
    apart = unicodedata.normalize("NFKD", text.lower().replace("’", "'").replace("ß", "ss").replace("ł", "l"))
    return "".join(char for char in apart if not unicodedata.combining(char) or char > "\u3000")


def _beginning(text: str) -> str:
    return " ".join(_folded(text).split()[:FIRST_WORDS])


def is_opt_out(subject: str, text: str) -> bool:
    """Does somebody ask not to be contacted again? text: their own words."""
    said = _beginning(text)
    alone = re.sub(r"\W+", "", said) or re.sub(r"\W+", "", _folded(subject))
    return alone in STOP_WORDS or bool(_OPT_OUT.search(said)) or (not said and bool(_OPT_OUT.search(_folded(subject))))


def is_refusal(text: str) -> bool:
    """Does somebody say that they are not interested?"""
    return bool(_REFUSAL.search(_beginning(text)))
