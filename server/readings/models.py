"""Readings of load cells: kept in blocks that nothing changes, each bound to the one before by its hash."""

import hashlib
import struct
import zlib

import numpy as np
from django.conf import settings
from django.db import models
from plans.models import Plan

# Readings are kept to a tenth of a newton and a millisecond.
_TENTH = 0.1
# The longest from one reading to the next within a block: a difference is kept in four bytes.
LONGEST_MS = 2**31 - 1


class Cell(models.Model):
    """A cell that somebody named: where it hangs in the rig, and the unit it reads in."""

    id = models.UUIDField(primary_key=True)
    plan = models.ForeignKey(Plan, on_delete=models.PROTECT, related_name="cells")
    name = models.CharField(max_length=60)
    place = models.CharField(max_length=120)
    unit = models.CharField(max_length=8)
    made_at = models.DateTimeField()
    # Of one whose readings came in a table: the file they came from. Nothing of it is live.
    from_file = models.CharField(max_length=200, blank=True, default="")

    class Meta:
        constraints = [models.UniqueConstraint(fields=["plan", "name"], name="one_cell_of_a_name")]
        ordering = ["made_at"]

    @property
    def last_block(self) -> "ReadingBlock | None":
        """The newest readings; asked of the database each time."""
        return self.blocks.order_by("-first").first()


class ReadingBlock(models.Model):
    """Readings one after the other: `first` is the number of the first, counted by the cell from 0; times in ms since the epoch by the
    cell's own clock."""

    cell = models.ForeignKey(Cell, on_delete=models.PROTECT, related_name="blocks")
    first = models.PositiveIntegerField()
    count = models.PositiveSmallIntegerField()
    from_ms = models.BigIntegerField()
    to_ms = models.BigIntegerField()
    data = models.BinaryField()
    hash = models.BinaryField(max_length=32)

    class Meta:
        constraints = [models.UniqueConstraint(fields=["cell", "first"], name="one_block_per_number")]
        ordering = ["first"]

    @property
    def following(self) -> int:
        """The number of the reading that comes after these."""
        return self.first + self.count

    def content_hash(self, before: bytes) -> bytes:
        head = struct.pack("<IHqq", self.first, self.count, self.from_ms, self.to_ms)
        return hashlib.sha256(before + self.cell_id.bytes + head + bytes(self.data)).digest()


class CellKey(models.Model):
    """What a cell's own bridge sends with: it writes that cell's readings and nothing else. Only the hash of it is kept; `made_by` stands for it in
    the log."""

    cell = models.OneToOneField(Cell, on_delete=models.CASCADE, related_name="key")
    token_sha256 = models.CharField(max_length=64, unique=True)
    made_by = models.ForeignKey(settings.AUTH_USER_MODEL, on_delete=models.PROTECT)
    made_at = models.DateTimeField(auto_now_add=True)


def unpacked(blocks: models.QuerySet[ReadingBlock]) -> tuple[np.ndarray, np.ndarray]:
    """Times in ms since the epoch and forces in newtons of many blocks, in the order of time; all of them taken apart at once."""
    rows = list(blocks.values_list("from_ms", "count", "data"))
    if not rows:
        return np.zeros(0, dtype=np.int64), np.zeros(0)
    steps = np.frombuffer(b"".join([zlib.decompress(data) for _, _, data in rows]), dtype="<i4").astype(np.int64)
    counts = np.array([count for _, count, _ in rows])
    # In each block its times come first, then its forces.
    forces = np.repeat(np.tile([False, True], len(rows)), np.repeat(counts, 2))
    from_ms = np.array([start for start, _, _ in rows])
    times, read = _added(steps[~forces], counts) + np.repeat(from_ms, counts), _added(steps[forces], counts) * _TENTH
    if (np.diff(times) < 0).any():
        # The cell's clock was set back in between.
        order = np.argsort(times, kind="stable")
        times, read = times[order], read[order]
    return times, read


def _added(steps: np.ndarray, counts: np.ndarray) -> np.ndarray:
    """Differences added up, each block from nothing."""
    total: np.ndarray = np.cumsum(steps)
    before = np.concatenate([[0], total[np.cumsum(counts)[:-1] - 1]])
    added: np.ndarray = total - np.repeat(before, counts)
    return added


def packed(times_ms: np.ndarray, forces_n: np.ndarray) -> bytes:
    """Times and forces as differences, compressed: a steady row of them takes two or three bytes a reading."""
    tenths = np.round(forces_n / _TENTH).astype(np.int64)
    rows = np.stack([np.diff(times_ms, prepend=times_ms[:1]), np.diff(tenths, prepend=0)])
    return zlib.compress(rows.astype("<i4").tobytes(), 6)
