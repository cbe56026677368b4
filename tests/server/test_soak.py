"""A minute of a team at work whose lines are cut, on a server that is killed twice and a disk that fills. (Half an hour: `make soak`.)"""

from tests.conftest import Server
from tests.soak import at_work, disk, judge


def test_every_acknowledged_thing_is_there_once_and_in_order_and_all_devices_heard_the_same():
    with disk() as (folder, mounted):
        server = Server(folder / "var")
        try:
            kept = judge(server, at_work(server, seconds=32, pace_s=0.3, filled=folder if mounted else None))
            assert kept["entries"] > 100 and kept["photographs"] and kept["revisions"] and kept["readings"]
        finally:
            server.kill()
