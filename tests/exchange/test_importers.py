"""Whatever comes in, an importer reads it or says in clear lines what is wrong; the bench tries ten thousand each."""

from __future__ import annotations

import pytest
from hypothesis import given, settings
from hypothesis import strategies as st

from tests.exchange.importers import IMPORTERS, spoiled
from yarvel.figures.errors import YarvelError


@pytest.mark.parametrize("name", IMPORTERS)
def test_an_importer_reads_or_refuses_in_clear_lines(name: str, tmp_path_factory: pytest.TempPathFactory) -> None:
    make, read = IMPORTERS[name]
    path = tmp_path_factory.mktemp("spoiled") / "in.zip"
    whole = make()
    path.write_bytes(whole)
    read(path)

    @settings(max_examples=250)
    @given(st.data())
    def one(data: st.DataObject) -> None:
        path.write_bytes(data.draw(spoiled(whole)))
        try:
            read(path)
        except YarvelError as error:
            assert "Traceback" not in str(error) and all(len(line) < 1000 for line in str(error).splitlines())

    one()
