"""A metal of the scrap is a row, a name and a place in the document."""

import unittest
from typing import get_args

from yellowbath.core.chemistry.metals import metals, why_refused
from yellowbath.core.data import table
from yellowbath.core.document import Scrap
from yellowbath.core.words import options


class Rows(unittest.TestCase):
    def test_each_has_a_row_and_a_name_and_no_row_is_of_nothing(self) -> None:
        names = set(get_args(Scrap))
        self.assertEqual(set(table("metals")), names)
        self.assertEqual(set(options("anode.material")), names)

    def test_what_gives_off_chromium_or_plates_itself_is_refused(self) -> None:
        for metal, why in (("stainless", "hexavalent"), ("chromed", "hexavalent"),
                           ("copper", "deposits"), ("lead", "poisonous")):  # fmt: skip
            self.assertIn(why, why_refused(metal))  # type: ignore[arg-type]
        self.assertFalse(metals("refused") & metals("sound") | metals("inert") & metals("refused"))
