"""Which scripts may bring in tags, and which are libraries that only draw, move and fold."""

import re

LIBRARIES = frozenset(
    "jquery jquery-ui jquery.ui jquery-migrate jquery.easing jquery.cookie jquery.form jquery.validate jquery.fancybox "
    "jquery.colorbox jquery.cycle jquery.cycle.all jquery.lazyload jquery.lazy jquery.mousewheel jquery.isotope "
    "jquery.masonry jquery.flexslider jquery.bxslider jquery.magnific-popup jquery.prettyphoto jquery.waypoints "
    "jquery.scrollto jquery.slides jquery.hoverintent jquery.superfish jquery.placeholder jquery.fitvids jquery.matchheight "
    "jquery.nivo.slider jquery.sticky jquery.blockui jquery.mask jquery.maskedinput jquery.history jquery.tools "
    "jquery.metadata jquery.jcarousel jquery.tmpl bootstrap bootstrap.bundle popper umd.popper modernizr modernizr.custom "
    "lodash underscore backbone angular angular-route react react-dom react.production react-dom.production vue vue.global "
    "moment swiper swiper-bundle slick owl.carousel isotope isotope.pkgd masonry masonry.pkgd imagesloaded "
    "imagesloaded.pkgd wow aos gsap tweenmax scrollmagic lightbox lightbox-plus-jquery fancybox flexslider html5shiv html5 "
    "respond respond.min polyfill wp-embed wp-emoji-release comment-reply hoverintent superfish prototype scriptaculous "
    "effects dragdrop controls builder mootools mootools-core mootools-more swfobject cufon cufon-yui sifr easing waypoints "
    "parallax simpleparallax lazysizes lazyload typed particles tether scrollreveal alpine htmx three d3 chart hammer "
    "velocity anime lottie lottie-player picturefill es6-promise".split()
)
"""Names of libraries that draw, move and fold, and count nobody (common practice)."""

VERSION = re.compile(r"(?:[.-](?:min|slim|pack|packed|compressed|\d+(?:\.\d+)*(?:[a-z]\d*)?|esm|umd))+$", re.I)


def may_carry_tags(url: str) -> bool:
    """Return whether a script may bring in tags: all but libraries that are known by name."""
    path = url.partition("://")[2].partition("?")[0].lower()
    if "/wp-includes/" in path:
        return False
    name = path.rpartition("/")[2].removesuffix(".js")
    return name not in LIBRARIES and VERSION.sub("", name) not in LIBRARIES
