"""Who waits for something long is told how far it has come."""

import threading
import uuid

from tests.conftest import Server
from tests.plans import changed, demo_document
from tests.server.test_durability import Caller


def test_the_check_and_the_best_changes_tell_how_far_they_have_come_and_nothing_once_they_are_there(server: Server):
    asker, waiter = Caller(server), Caller(server)
    for number, path in enumerate(("/check", "/best?goal=hand")):
        document = changed(demo_document(), site__load_at={"x_m": 24.5 - number / 10, "z_m": -23.3 + number / 9})
        id, seen = str(uuid.uuid4()), []
        answers: list[object] = []

        def ask(path=path, id=id, document=document, answers=answers):
            answers.append(asker.send("POST", path, document, {"X-Doing": id}))

        asking = threading.Thread(target=ask)
        asking.start()
        while asking.is_alive():
            come = waiter.send("GET", f"/doing/{id}")
            if come["of"]:
                seen.append((come["done"], come["of"]))
        asking.join()
        assert answers
        # Forward only, within what there is, and seen on its way.
        assert seen == sorted(seen) and len({done for done, _ in seen}) > 2
        assert all(0 <= done <= of for done, of in seen)
        assert waiter.send("GET", f"/doing/{id}") == {"done": 0, "of": 0}
    assert waiter.send("GET", f"/doing/{uuid.uuid4()}") == {"done": 0, "of": 0}
