"""What the coast's newcomers write on their sites: the same pages in other languages (own words)."""

from dataclasses import dataclass


@dataclass(frozen=True, slots=True)
class Tongue:
    """The words of one language. prose: sentences about the business, with its town; hours: as a sign on a door has them."""

    start: str
    about: str
    contact: str
    privacy: str
    phone: str
    email: str
    book: str
    cart: str
    hours: str
    log_in: str
    prose: tuple[str, ...]


ENGLISH = "en"
TONGUES = {
    ENGLISH: Tongue(
        "Start", "About us", "Contact", "Privacy", "Phone", "E-mail", "Book an appointment", "Add to cart", "", "Log in", ()
    ),
    "de": Tongue(
        "Startseite", "Über uns", "Kontakt", "Datenschutz", "Telefon", "E-Mail", "Termin buchen", "In den Warenkorb",
        "Montag bis Freitag 9:00 – 17:30 Uhr", "Anmelden",
        (
            "Seit vielen Jahren sind wir für die Menschen in {town} und den Dörfern rundherum da.",
            "Unsere Werkstatt ist die ganze Woche geöffnet, und es ist immer jemand da, der die Tür aufmacht.",
            "Was wir aus der Hand geben, würden wir auch selbst gern behalten.",
            "Die Preise stehen auf der Tafel neben der Tür, später gibt es keine Überraschungen.",
            "Bringen Sie es vorbei, trinken Sie einen Tee mit uns, und wir sagen Ihnen ehrlich, was es braucht.",
            "Viele unserer Kunden kommen aus {town}, manche von der anderen Seite der Küste.",
        ),
    ),
    "fr": Tongue(
        "Accueil", "À propos", "Contact", "Politique de confidentialité", "Téléphone", "Courriel", "Prendre rendez-vous",
        "Ajouter au panier", "Du lundi au vendredi de 9h00 à 17h30", "Se connecter",
        (
            "Depuis de longues années nous nous occupons des habitants de {town} et des villages autour.",
            "Notre atelier est ouvert toute la semaine, et il y a toujours quelqu’un pour vous répondre.",
            "Rien ne sort de nos mains que nous ne serions heureux de garder pour nous-mêmes.",
            "Les prix sont affichés à côté de la porte, sans mauvaise surprise ensuite.",
            "Venez nous voir, prenez un thé avec nous, et nous vous dirons honnêtement ce qu’il faut faire.",
            "Beaucoup de nos clients viennent de {town}, certains de l’autre bout de la côte.",
        ),
    ),
    "es": Tongue(
        "Inicio", "Sobre nosotros", "Contacto", "Política de privacidad", "Teléfono", "Correo", "Reservar cita",
        "Añadir al carrito", "De lunes a viernes de 9:00 a 17:30", "Iniciar sesión",
        (
            "Desde hace muchos años atendemos a la gente de {town} y de los pueblos de alrededor.",
            "Nuestro taller está abierto toda la semana y siempre hay alguien que contesta al timbre.",
            "Nada sale de nuestras manos que no quisiéramos tener nosotros mismos.",
            "Los precios están en la pizarra junto a la puerta, sin sorpresas después.",
            "Tráigalo, tómese un té con nosotros y le diremos con sinceridad lo que necesita.",
            "Muchos de nuestros clientes vienen de {town}, algunos del otro lado de la costa.",
        ),
    ),
    "it": Tongue(
        "Home", "Chi siamo", "Contatti", "Informativa sulla privacy", "Telefono", "E-mail", "Prenota un appuntamento",
        "Aggiungi al carrello", "Dal lunedì al venerdì 9:00 – 17:30", "Accedi",
        (
            "Da molti anni ci prendiamo cura delle persone di {town} e dei paesi vicini.",
            "Il nostro laboratorio è aperto tutta la settimana e c’è sempre qualcuno che risponde al campanello.",
            "Niente esce dalle nostre mani che non saremmo contenti di tenere per noi.",
            "I prezzi sono scritti sulla lavagna accanto alla porta, senza sorprese dopo.",
            "Portatelo da noi, prendete un tè e vi diremo onestamente di che cosa ha bisogno.",
            "Molti dei nostri clienti vengono da {town}, alcuni dall’altra parte della costa.",
        ),
    ),
    "nl": Tongue(
        "Home", "Over ons", "Contact", "Privacyverklaring", "Telefoon", "E-mail", "Afspraak maken", "In winkelwagen",
        "Maandag tot en met vrijdag 9.00 – 17.30 uur", "Inloggen",
        (
            "Al vele jaren zorgen wij voor de mensen in {town} en de dorpen eromheen.",
            "Onze werkplaats is de hele week open en er is altijd iemand die de deur opendoet.",
            "Er gaat niets de deur uit dat we niet graag zelf zouden houden.",
            "De prijzen staan op het bord naast de deur, zonder verrassingen achteraf.",
            "Breng het langs, drink een kop thee met ons, en we zeggen u eerlijk wat er nodig is.",
            "Veel van onze klanten komen uit {town}, sommige van de andere kant van de kust.",
        ),
    ),
    "pl": Tongue(
        "Strona główna", "O nas", "Kontakt", "Polityka prywatności", "Telefon", "E-mail", "Umów wizytę", "Dodaj do koszyka",
        "Poniedziałek – piątek 9:00 – 17:30", "Zaloguj się",
        (
            "Od wielu lat dbamy o mieszkańców miasta {town} i okolicznych wsi.",
            "Nasz warsztat jest otwarty przez cały tydzień i zawsze ktoś odpowie na dzwonek.",
            "Nic nie opuszcza naszych rąk, czego sami nie chcielibyśmy mieć.",
            "Ceny są na tablicy obok drzwi, bez żadnych niespodzianek później.",
            "Proszę przynieść, napić się z nami herbaty, a powiemy uczciwie, czego potrzeba.",
            "Wielu naszych klientów pochodzi z miasta {town}, niektórzy z drugiego końca wybrzeża.",
        ),
    ),
}  # fmt: skip
