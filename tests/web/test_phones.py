"""A phone at the table: shut at first, paired by a code, let do what is listed and nothing else."""

from __future__ import annotations

import io
import urllib.request
from collections.abc import Iterator
from typing import Any

import pytest
from flask.testing import FlaskClient
from PIL import Image
from werkzeug.test import TestResponse

from tidy_tinder.core.difference.priorities import Closest
from tidy_tinder.core.vocabulary import Blacks, WorkOrder
from tidy_tinder.services.background.runtime import Collection
from tidy_tinder.services.bench.clock import begin_sitting
from tidy_tinder.services.bench.photos import waiting_photos
from tidy_tinder.services.bench.place import PlaceAs, work_at
from tidy_tinder.services.collection.chart import chart_by_id
from tidy_tinder.services.drawings.store import DrawingAs, begin_drawing
from tidy_tinder.services.errors import RefusedError
from tidy_tinder.services.phones.pairing import MOST_TRIES, OPEN_SECONDS, Pairing
from tidy_tinder.services.photos.view import photo_cards
from tidy_tinder.services.reference.view import reference_cards
from tidy_tinder.services.restock.listing import list_colours, shopping_list, strike
from tidy_tinder.services.sheets.plan import SheetPlan
from tidy_tinder.services.sheets.store import prepare_sheet
from tidy_tinder.web.app import create_app
from tidy_tinder.web.endpoint import close_devices
from tidy_tinder.web.phone.app import create_phone_app

HOST = "192.168.1.20:8732"


class Clock:
    """Time that goes on when it is told."""

    def __init__(self) -> None:
        self.now = 100.0

    def __call__(self) -> float:
        return self.now


class PhoneClient(FlaskClient):
    """A browser that speaks to the phone's address."""

    host = HOST

    def open(self, *args: Any, **kwargs: Any) -> TestResponse:
        """A request, by this name of the host."""
        return super().open(*args, **{"base_url": f"http://{HOST}", "headers": {"Host": self.host}, **kwargs})


@pytest.fixture
def clock() -> Clock:
    return Clock()


@pytest.fixture
def pairing(clock: Clock) -> Pairing:
    opened = Pairing(clock)
    opened.open()
    return opened


@pytest.fixture
def sheet(demo: Collection) -> int:
    return prepare_sheet(demo, SheetPlan(1))[0]


@pytest.fixture
def phone(demo: Collection, pairing: Pairing) -> FlaskClient:
    app = create_phone_app(demo, pairing, lambda: None, lambda: HOST)
    app.test_client_class = PhoneClient
    client = app.test_client()
    client.environ_base |= {"REMOTE_ADDR": "192.168.1.77"}
    return client


def pair(phone: FlaskClient, pairing: Pairing, name: str = "Wren's phone") -> TestResponse:
    return phone.post("/pair", data={"code": pairing.state().code, "name": name})


def photo() -> bytes:
    out = io.BytesIO()
    Image.new("RGB", (900, 1200), (200, 200, 200)).save(out, "JPEG")
    return out.getvalue()


def send(phone: FlaskClient, sheet: int, content: bytes) -> TestResponse:
    return phone.post("/photos", data={"sheet": str(sheet), "photo": (io.BytesIO(content), "page.jpg")})


def test_a_phone_is_paired_sends_a_photo_and_sees_how_far_it_is(
    phone: FlaskClient, pairing: Pairing, sheet: int, demo: Collection
) -> None:
    assert "six figures" in phone.get("/").text
    paired = pair(phone, pairing)
    cookie = paired.headers["Set-Cookie"]
    assert "HttpOnly" in cookie
    assert "SameSite=Strict" in cookie
    assert "Wren&#39;s phone" in phone.get("/").text
    assert send(phone, sheet, photo()).status_code == 303
    assert [card.name for card in photo_cards(demo, sheet)] == ["page.jpg"]
    shown = phone.get("/sent").text
    assert "page.jpg" in shown
    assert "Waits for its turn" in shown
    assert 'http-equiv="refresh"' in shown
    # Where the next photo is being chosen nothing is asked for again by itself: that would lose the choice.
    assert "refresh" not in phone.get("/").text


def test_a_picture_to_draw_from_is_sent_to_its_drawing(phone: FlaskClient, pairing: Pairing, demo: Collection) -> None:
    assert phone.post("/pictures", data={"drawing": "1"}).status_code == 403
    pair(phone, pairing)
    assert "There is no drawing yet" in phone.get("/").text
    said = DrawingAs("Plate", 1, 210, 297, Closest.OVERALL, False, Blacks.ALLOWED, False, WorkOrder.LIGHT_TO_DARK)
    drawing, _ = begin_drawing(demo, said)
    assert "Plate" in phone.get("/").text

    def picture(number: int, content: bytes) -> TestResponse:
        return phone.post("/pictures", data={"drawing": str(number), "picture": (io.BytesIO(content), "cap.jpg")})

    for answer, words in (
        (picture(drawing, b"GIF89a"), "GIF"),
        (picture(999, photo()), "no drawing number 999"),
        (phone.post("/pictures", data={"drawing": str(drawing)}), "No picture was chosen"),
    ):
        assert answer.status_code == 422
        assert words in answer.text
    assert reference_cards(demo, drawing) == ()
    assert picture(drawing, photo()).headers["Location"] == "/kept"
    assert "belongs to its drawing now" in phone.get("/kept").text
    (card,) = reference_cards(demo, drawing)
    assert card.name == "cap.jpg"


def test_a_photo_of_the_drawing_is_sent_to_wait_for_its_check(
    phone: FlaskClient, pairing: Pairing, demo: Collection
) -> None:
    assert phone.post("/drawn", data={"drawing": "1"}).status_code == 403
    pair(phone, pairing)
    assert "The drawing itself" not in phone.get("/").text
    said = DrawingAs("Plate", 1, 210, 297, Closest.OVERALL, False, Blacks.ALLOWED, False, WorkOrder.LIGHT_TO_DARK)
    drawing, _ = begin_drawing(demo, said)
    assert "The drawing itself, to check its values" in phone.get("/").text
    refused = phone.post("/drawn", data={"drawing": str(drawing), "drawn": (io.BytesIO(b"GIF89a"), "cap.gif")})
    assert (refused.status_code, "GIF" in refused.text) == (422, True)
    assert waiting_photos(demo, drawing) == ()
    sent = phone.post("/drawn", data={"drawing": str(drawing), "drawn": (io.BytesIO(photo()), "cap.jpg")})
    assert sent.headers["Location"] == "/waits"
    assert "The photo waits at the computer" in phone.get("/waits").text
    assert [one.name for one in waiting_photos(demo, drawing)] == ["cap.jpg"]


def test_what_is_no_photo_is_said_and_nothing_is_kept(
    phone: FlaskClient, pairing: Pairing, sheet: int, demo: Collection
) -> None:
    pair(phone, pairing)
    for answer, words in (
        (send(phone, sheet, b"GIF89a"), "GIF"),
        (send(phone, 999, photo()), "no sheet number 999"),
        (phone.post("/photos", data={"sheet": str(sheet)}), "No picture was chosen"),
    ):
        assert answer.status_code == 422
        assert words in answer.text
    assert photo_cards(demo, sheet) == ()


def test_five_wrong_codes_and_it_is_shut_until_a_new_one_is_asked_for(phone: FlaskClient, pairing: Pairing) -> None:
    right = pairing.state().code
    wrong = "000000" if right != "000000" else "000001"
    for left in reversed(range(MOST_TRIES)):
        answer = phone.post("/pair", data={"code": wrong})
        assert answer.status_code == 403
        assert f"{left} tries are left" in answer.text
    assert "tried too often" in phone.post("/pair", data={"code": right}).text
    pairing.renew_code()
    assert pair(phone, pairing).status_code == 303


def test_a_code_is_good_for_one_phone(pairing: Pairing) -> None:
    code = pairing.state().code
    pairing.pair(code, "one")
    with pytest.raises(RefusedError, match="not the code"):
        pairing.pair(code, "two")


def test_an_unpaired_client_reads_and_sends_nothing(
    phone: FlaskClient, sheet: int, demo: Collection, pairing: Pairing
) -> None:
    assert send(phone, sheet, photo()).status_code == 403
    assert photo_cards(demo, sheet) == ()
    assert "Sheet of" not in phone.get("/").text
    assert "six figures" in phone.get("/sent").text
    phone.set_cookie("tidy-tinder-phone", "guessed", domain="192.168.1.20")
    assert send(phone, sheet, photo()).status_code == 403
    pair(phone, pairing)
    # Paired, it still knows none of the program's own addresses.
    for path in (
        "/api/collection",
        "/api/tidy?paper=1",
        "/api/collection/backup",
        "/api/photos/1/original",
        "/assets/x",
    ):
        assert phone.get(path).status_code == 404


@pytest.mark.parametrize(
    "how",
    [
        {"REMOTE_ADDR": "93.184.216.34"},
        {"HTTP_HOST": "evil.example:8732"},
        {"HTTP_HOST": "127.0.0.1:8732"},
        {"HTTP_ORIGIN": "http://evil.example"},
        {"HTTP_ORIGIN": "null"},
        {"HTTP_SEC_FETCH_SITE": "cross-site"},
    ],
    ids=[
        "from the world",
        "by another name",
        "by the computer's own name",
        "from another page",
        "from nowhere",
        "across sites",
    ],
)
def test_every_other_host_origin_and_address_is_refused(
    phone: FlaskClient, pairing: Pairing, sheet: int, how: dict[str, str], demo: Collection
) -> None:
    pair(phone, pairing)
    assert isinstance(phone, PhoneClient)
    phone.host = how.get("HTTP_HOST", HOST)
    phone.environ_base |= how
    assert phone.get("/").status_code == 403
    assert send(phone, sheet, photo()).status_code == 403
    assert photo_cards(demo, sheet) == ()


def test_after_its_hour_nobody_is_in(phone: FlaskClient, pairing: Pairing, clock: Clock, sheet: int) -> None:
    pair(phone, pairing)
    clock.now += OPEN_SECONDS - 1
    assert phone.get("/").status_code == 200
    clock.now += 1
    assert phone.get("/").status_code == 403
    pairing.open()
    assert send(phone, sheet, photo()).status_code == 403  # it must be paired anew


def test_a_phone_that_is_sent_away_is_out(phone: FlaskClient, pairing: Pairing, sheet: int) -> None:
    pair(phone, pairing)
    pairing.send_away(pairing.state().phones[0].id)
    assert send(phone, sheet, photo()).status_code == 403


@pytest.fixture
def at_home(demo: Collection) -> Iterator[FlaskClient]:
    app = create_app(demo, phones_on="127.0.0.1")
    yield app.test_client()
    close_devices(app)


def test_it_listens_only_while_phones_may_come_in(at_home: FlaskClient) -> None:
    assert at_home.get("/api/phones").get_json()["is_open"] is False
    now = at_home.post("/api/phones/open").get_json()
    assert now["is_open"]
    assert len(now["code"]) == 6
    assert now["qr"]["size"] > 20
    with urllib.request.urlopen(now["address"], timeout=10) as answer:
        assert b"six figures" in answer.read()
    renewed = at_home.post("/api/phones/code").get_json()
    assert renewed["address"] == now["address"]
    assert at_home.post("/api/phones/close").get_json()["is_open"] is False
    with pytest.raises(OSError, match=r"refused|reset"):
        urllib.request.urlopen(now["address"], timeout=10)
    assert at_home.post("/api/phones/code").status_code == 422
    assert at_home.post("/api/phones/open").get_json()["is_open"]


@pytest.fixture
def at_bench(phone: FlaskClient, pairing: Pairing, demo: Collection) -> FlaskClient:
    """A paired phone beside a drawing with its recipe."""
    pair(phone, pairing)
    said = DrawingAs("Plate", 1, 210, 297, Closest.OVERALL, False, Blacks.ALLOWED, False, WorkOrder.LIGHT_TO_DARK)
    drawing, _ = begin_drawing(demo, said)
    work_at(demo, drawing, PlaceAs(recipe_id=1))
    begin_sitting(demo, drawing)
    return phone


def entry(key: str, **more: object) -> dict[str, object]:
    return {"key": key, "kind": "note", "note": key, **more}


def test_a_phone_works_at_the_bench_of_the_drawing_at_hand(at_bench: FlaskClient) -> None:
    page = at_bench.get("/bench")
    assert "script-src 'self'" in page.headers["Content-Security-Policy"]
    assert at_bench.get("/bench.js").mimetype == "text/javascript"
    assert "script-src" not in at_bench.get("/").headers["Content-Security-Policy"]
    state = at_bench.get("/bench/state").get_json()
    assert (state["drawing"], state["step"]["number"]) == ("Plate", 1)
    [oxlip] = state["step"]["pencils"]
    ticked = {"key": "t", "colour_id": oxlip["colour"]["id"], "call_id": oxlip["call_id"], "layers": 1}
    assert at_bench.post("/bench/log", json={"entries": [ticked]}).status_code == 200
    assert at_bench.get("/bench/state").get_json()["step"]["pencils"][0]["ticked"] == 1
    assert at_bench.post("/bench/untick", json={"call_id": oxlip["call_id"], "section_id": 0}).status_code == 200
    assert at_bench.post("/bench/on", json={"step_id": state["step"]["id"], "state": "done"}).status_code == 200
    assert at_bench.post("/bench/wet", json={"section_id": 0, "wetting": "solvent", "key": "w"}).status_code == 200
    [dries] = at_bench.get("/bench/state").get_json()["dryings"]
    assert at_bench.post("/bench/dry", json={"id": dries["id"], "state": "dry"}).status_code == 200
    assert at_bench.post("/bench/back", json={}).status_code == 200
    assert at_bench.get("/bench/state").get_json()["step"]["number"] == 1
    assert at_bench.get("/bench/called?q=M12").get_json()["sure"] is not None


def test_what_a_phone_kept_is_written_once_however_often_it_is_sent(at_bench: FlaskClient) -> None:
    for sent in (["a", "b"], ["a", "b"], ["b", "c"]):
        assert at_bench.post("/bench/log", json={"entries": [entry(key) for key in sent]}).status_code == 200
    state = at_bench.get("/bench/state").get_json()
    assert [one["note"] for one in reversed(state["log"])] == ["a", "b", "c"]


@pytest.mark.parametrize(
    ("act", "body", "status"),
    [
        ("log", {"entries": []}, 422),
        ("log", {"entries": [{"key": "k", "kind": "pencil"}]}, 409),
        ("log", {"entries": [{"key": "k", "kind": "pencil", "colour_id": 10**30}]}, 422),
        ("log", {}, 422),
        ("log", [1], 409),
        ("on", {"step_id": 9999, "state": "done"}, 409),
        ("on", {"step_id": 1, "state": "danced"}, 422),
        ("dry", {"id": True, "state": "dry"}, 409),
        ("dry", {"id": 10**40, "state": "dry"}, 409),
        ("dry", {"id": 1, "state": "damp"}, 422),
        ("wet", {"section_id": 77, "wetting": "solvent", "key": "k"}, 409),
        ("dance", {}, 404),
    ],
)
def test_what_a_phone_may_not_say_is_refused_in_words(
    at_bench: FlaskClient, act: str, body: object, status: int
) -> None:  # fmt: skip
    answer = at_bench.post(f"/bench/{act}", json=body)
    assert answer.status_code == status
    if status != 404:
        assert answer.get_json()["detail"]
    assert at_bench.get("/bench/state").get_json()["log_count"] == 0


def test_the_bench_is_for_paired_phones_only(phone: FlaskClient, pairing: Pairing) -> None:
    assert phone.get("/bench").status_code == 403
    assert phone.get("/bench/state").status_code == 403
    assert phone.post("/bench/log", json={"entries": [entry("a")]}).status_code == 403
    pair(phone, pairing)
    assert phone.get("/bench/state").status_code == 409  # no drawing is at hand
    assert "Choose one on the computer" in phone.get("/bench/state").get_json()["detail"]
    assert phone.post("/bench/log", data="{", headers={"Host": HOST}).status_code == 409


@pytest.fixture
def in_shop(phone: FlaskClient, pairing: Pairing, demo: Collection) -> FlaskClient:
    """A paired phone with two colours on the list."""
    pair(phone, pairing)
    with demo() as session:
        colours = list(chart_by_id(session))[:2]
    list_colours(demo, colours, "two closer")
    return phone


def test_the_list_is_taken_into_the_shop_and_its_ticks_come_home(in_shop: FlaskClient, demo: Collection) -> None:
    page = in_shop.get("/list")
    first, second = shopping_list(demo).lines
    assert first.colour.code in page.text
    assert "two closer" in page.text
    assert "script-src 'self'" in page.headers["Content-Security-Policy"]
    assert in_shop.get("/list.js").mimetype == "text/javascript"
    ticks = [{"id": first.id, "ticked": True}, {"id": second.id, "ticked": False}]
    for _ in range(2):
        assert in_shop.post("/list/ticks", json={"ticks": ticks}).status_code == 200
    assert [line.ticked for line in shopping_list(demo).lines] == [True, False]


def test_a_line_that_was_struck_at_home_does_not_hold_up_the_others(in_shop: FlaskClient, demo: Collection) -> None:
    first, second = shopping_list(demo).lines
    strike(demo, first.id)
    ticks = [{"id": first.id, "ticked": True}, {"id": second.id, "ticked": True}]
    assert in_shop.post("/list/ticks", json={"ticks": ticks}).status_code == 200
    assert [line.ticked for line in shopping_list(demo).lines] == [True]


@pytest.mark.parametrize(
    "body", [None, [], {"ticks": []}, {"ticks": [{"id": 0, "ticked": True}]}, {"ticks": [{"id": 1}]}]
)
def test_ticks_that_are_none_are_refused_in_words(in_shop: FlaskClient, body: object) -> None:
    answer = in_shop.post("/list/ticks", json=body)
    assert answer.status_code == 422
    assert "Reload" in answer.get_json()["detail"]


def test_the_list_is_for_paired_phones_only(phone: FlaskClient, pairing: Pairing) -> None:
    pairing.open()
    assert phone.get("/list").status_code == 403
    assert phone.post("/list/ticks", json={"ticks": [{"id": 1, "ticked": True}]}).status_code == 403
