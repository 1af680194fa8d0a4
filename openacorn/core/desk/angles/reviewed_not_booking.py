"""Well reviewed, takes no bookings online."""

from openacorn.core.desk.angle import Angle

ANGLE = Angle(
    id="reviewed_not_booking",
    name="Well reviewed, takes no bookings online",
    service="booking_shop",
    line="People like you and cannot book you after hours: the form or the calendar is missing.",
    filter={"check.reviews_volume": "ok", "rating": "4.2..", "check.booking": "gap"},
)
