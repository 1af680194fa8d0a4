"""Webhooks on screen: added, tried, its failure read, put right, deleted."""

import pytest

from tests.application import Application
from tests.hooks.test_webhooks_api import Listener, listener
from tests.web.screen import Screen

__all__ = ["listener"]
pytestmark = [pytest.mark.browser, pytest.mark.world]


def test_a_webhook_is_added_tried_and_put_right(screen: Screen, app: Application, listener: Listener) -> None:
    screen.open("/settings/webhooks")
    screen.by_text("Add a webhook").click()
    form = "form[aria-label=Webhook]"
    name, address = screen.all(f"{form} input:not([type=checkbox])")
    name.send_keys("Our CRM")
    address.send_keys("nowhere")
    assert screen.faults() == []
    screen.by_text("Save", f"{form} button").click()
    screen.until(lambda: screen.all(f"{form} [role=alert]"), "what is wrong with the address")
    address.send_keys(f"{len('nowhere') * chr(0xE003)}{listener.url}")  # back space
    screen.by_text("Save", f"{form} button").click()
    screen.until(lambda: "whsec_" in screen.text, "the secret, once")
    screen.by_text("I have it").click()
    screen.by_text("Send a test").click()
    screen.until(lambda: "private network" in screen.text, "why it did not arrive")
    assert screen.faults() == []
    trusted = app.get("/api/settings")
    assert trusted["sections"], "settings can be read"
    app.put("/api/settings", {"values": {"trusted_hosts": ["127.0.0.1"]}})
    screen.by_text("Send a test").click()
    screen.until(lambda: "arrived" in screen.text, "it arrived")
    screen.by_text("Delete").click()
    screen.by_text("Delete it with what is on its way").click()
    screen.until(lambda: "Our CRM" not in screen.text, "it is gone")
    assert screen.complaints() == []
    app.put("/api/settings", {"values": {"trusted_hosts": []}})
