"""A headless Chromium against the real server, and the ways a person works in it."""

import json
import re
import uuid
from collections.abc import Callable, Iterator
from typing import Any

import pytest
from playwright.sync_api import Browser, BrowserContext, BrowserType, Page, expect, sync_playwright

from tests.conftest import Server
from tests.plans import one_rope_document

# A machine with much else to do answers late; what never comes still fails.
expect.set_options(timeout=30_000)

CHROMIUM = "/usr/bin/chromium"
FLAGS = ["--no-sandbox", "--disable-gpu", "--disable-background-networking"]


@pytest.fixture(scope="package")
def chromium() -> Iterator[BrowserType]:
    with sync_playwright() as playwright:
        yield playwright.chromium


@pytest.fixture(scope="package")
def browser(chromium: BrowserType) -> Iterator[Browser]:
    one = chromium.launch(executable_path=CHROMIUM, args=FLAGS)
    yield one
    one.close()


LEFT = {"pathOpen": True, "drawn": {"Bench": 0.55}}


class Person:
    """Somebody signed in on a device of their own."""

    def __init__(self, browser: Browser, server: Server, name: str = "rowan", **device: Any):
        usual = {
            "viewport": {"width": 1280, "height": 800},
            "service_workers": "block",
            "storage_state": server.signed_in.get(name),
        }
        self._arrive(browser.new_context(**(usual | device)), server, name)

    @classmethod
    def at(cls, context: BrowserContext, server: Server, name: str = "rowan") -> "Person":
        """Somebody in a browser of their own that is closed and opened again."""
        self = cls.__new__(cls)
        self._arrive(context, server, name)
        return self

    def _arrive(self, context: BrowserContext, server: Server, name: str) -> None:
        self.server, self.context = server, context
        self.context.set_default_timeout(30_000)
        self.page: Page = self.context.new_page()
        # As whoever works with it leaves it: the load path open, the bench up. How it is at first sight is asked apart.
        self.page.add_init_script(f"localStorage['outrigger.settings'] ??= {json.dumps(json.dumps(LEFT))}")
        self.errors: list[str] = []
        self.page.on("pageerror", lambda error: self.errors.append(str(error)))
        if self.page.request.get(f"{server.url}/api/session").json()["username"] == name:
            self.page.goto(f"{server.url}/plans")
            return
        self.page.goto(server.url)
        self.page.get_by_label("Name").fill(name)
        self.page.get_by_label("Password").fill("practice-only")
        self.page.get_by_role("button", name="Sign in").click()
        self.page.wait_for_url("**/plans")
        server.signed_in[name] = self.context.storage_state()

    def call(self, method: str, path: str, content: Any = None) -> Any:
        token = next(one["value"] for one in self.context.cookies() if one["name"].endswith("csrftoken"))
        options: dict[str, Any] = {"method": method, "headers": {"X-CSRFToken": token}}
        if content is not None:
            options |= {
                "data": json.dumps(content),
                "headers": options["headers"] | {"Content-Type": "application/json"},
            }
        return self.page.request.fetch(f"{self.server.url}/api{path}", **options).json()

    def fresh_plan(self, stage: str = "lines", base: Any = one_rope_document, **changes: Any) -> str:
        """A new plan, from the demo's main line alone unless another `base` is given, opened at a stage; its id."""
        from tests.plans import changed

        team = self.call("GET", "/session")["teams"][0]["id"]
        document = changed(base(), title=f"Practice {uuid.uuid4().hex[:6]}", **changes)
        plan = self.call("POST", "/plans", {"team": team, "id": str(uuid.uuid4()), "document": document})["id"]
        self.open(plan, stage)
        return plan

    def open(self, plan: str, stage: str = "lines") -> None:
        self.page.goto(f"{self.server.url}/plans/{plan}/{stage}")
        self.page.wait_for_selector(
            {"log": "h2", "anchors": "[data-testid=anchor-answer]", "check": "[data-check]"}.get(stage, "[data-rung]")
        )

    def until(self, holds: Callable[[], bool]) -> None:
        """Wait for what only the server can tell."""
        for _ in range(60):
            if holds():
                return
            self.page.wait_for_timeout(250)
        raise AssertionError("it never came to hold")

    def saved(self) -> None:
        self.page.wait_for_selector("[data-saving=saved]")

    def choose(self, button: str, option: str, tap: bool = False) -> None:
        """A choice that opens worked out, and the one taken."""
        act = "tap" if tap else "click"
        getattr(self.page.get_by_role("button", name=button), act)()
        dialog = self.page.get_by_role("dialog")
        getattr(dialog.get_by_role("button", name=re.compile(f"^[■◇] {re.escape(option)}( ?chosen)?$")).first, act)()
        expect(dialog).to_have_count(0)

    def change(self, name: str, tap: bool = False) -> None:
        """One of the haul system's changes."""
        act = "tap" if tap else "click"
        getattr(self.page.get_by_role("button", name="Change it"), act)()
        getattr(self.page.get_by_role("menuitem", name=name), act)()

    def begin(self, scene: str, *touched: str, tap: bool = False, **typed: str) -> None:
        """A new plan from its scene: fields typed in by what their labels begin with (spaces as underscores), then buttons touched by name."""
        page, act = self.page, "tap" if tap else "click"
        getattr(page.get_by_role("button", name="New plan"), act)()
        page.get_by_role("radio", name=scene, exact=True).check()
        dialog = page.get_by_role("dialog")
        for label, text in typed.items():
            dialog.get_by_role("textbox", name=re.compile(f"^{label.replace('_', ' ')}")).fill(text)
        for name in touched:
            getattr(dialog.get_by_role("button", name=name, exact=True), act)()
        getattr(dialog.get_by_role("button", name="Begin", exact=True), act)()
        page.wait_for_url("**/lines")

    def begin_straight_lift(self) -> None:
        """A plan for a beam over a stairwell."""
        self.begin(
            "Straight lift", "Beam", "11 mm low-stretch rope, type A", What_and_where="Stairwell, worker fallen",
            Drop_below="8", Casualty="80", People_who_can_pull="3", Rope_length="50",
        )  # fmt: skip

    def left(self, **settings: Any) -> None:
        """How this device was left, from the next page on."""
        told = json.dumps(json.dumps(LEFT | settings))
        self.context.add_init_script(f"localStorage.setItem('outrigger.settings', {told})")

    def set(self, option: str) -> None:
        """How the sheet is read: palette, units, size of type, hand."""
        self.page.get_by_role("button", name="More:").click()
        self.page.get_by_role("radio", name=option, exact=True).check()
        self.page.keyboard.press("Escape")

    def answer(self) -> str:
        return self.page.get_by_test_id("answer").inner_text()

    def tab_to(self, label: str, most: int = 90) -> None:
        """Press Tab until the focused thing's label, text or name begins with `label`."""
        for _ in range(most):
            self.page.keyboard.press("Tab")
            found = self.page.evaluate(
                "(() => { const e = document.activeElement; return [e.getAttribute('aria-label'), e.innerText, "
                "...(e.labels ? [...e.labels].map(l => l.innerText) : [])].filter(Boolean) })()"
            )
            if any(str(text).strip().startswith(label) for text in found):
                return
        raise AssertionError(f"Tab never reached {label!r}")


@pytest.fixture
def someone(browser: Browser, server: Server) -> Iterator[Any]:
    people: list[Person] = []

    def arrive(name: str = "rowan", **device: Any) -> Person:
        people.append(Person(browser, server, name, **device))
        return people[-1]

    yield arrive
    for person in people:
        assert person.errors == []
        person.context.close()
