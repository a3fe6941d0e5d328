"""Text follows a large screen, and leaves the rest to the desktop."""

import os
import sys
import unittest
from unittest import mock

from murvan.app import screen_scale
from murvan.app.screen_scale import VARIABLE, factor_for, follow_screen


def screen(width, height, ratio=1.0):
    app = mock.Mock()
    app.primaryScreen().size().width.return_value = width
    app.primaryScreen().size().height.return_value = height
    app.primaryScreen().devicePixelRatio.return_value = ratio
    return app


class ScreenScale(unittest.TestCase):
    def test_factors(self):
        self.assertEqual(factor_for(1280, 720, 1.0), 1.0)
        self.assertEqual(factor_for(1920, 1080, 1.0), 1.0)
        self.assertEqual(factor_for(2560, 1440, 1.0), 1.25)
        self.assertEqual(factor_for(3840, 2160, 1.0), 1.75)
        self.assertEqual(factor_for(3840, 2160, 2.0), 1.0)
        self.assertEqual(factor_for(3440, 1080, 1.0), 1.0)

    def test_it_starts_again_once_with_the_same_words(self):
        with mock.patch.dict(os.environ), mock.patch.object(screen_scale.os, "execv") as execv:
            os.environ.pop(VARIABLE, None)
            with mock.patch.object(sys, "orig_argv", ["python", "-m", "murvan", "open", "demo"]):
                follow_screen(screen(1280, 800))
                execv.assert_not_called()
                follow_screen(screen(2560, 1440))
                follow_screen(screen(2560, 1440))
            execv.assert_called_once_with(sys.executable, [sys.executable, "-m", "murvan", "open", "demo"])
            self.assertEqual(os.environ[VARIABLE], "1.25")
