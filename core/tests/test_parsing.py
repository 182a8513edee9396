"""Parsing beside other threads."""

from __future__ import annotations

import ast
import os
import threading
import unittest

from cenote.parsing import in_turn


class InTurnTests(unittest.TestCase):
    def test_what_others_came_in_the_way_of_is_done_again(self) -> None:
        left = [SystemError("AST constructor recursion depth mismatch")] * 3

        def parse() -> int:
            if left:
                raise left.pop()
            return 7

        self.assertEqual(in_turn(parse), 7)

    def test_what_never_works_is_told(self) -> None:
        def never() -> None:
            raise SystemError("always")

        with self.assertRaises(SystemError):
            in_turn(never)
        with self.assertRaises(SyntaxError):
            in_turn(lambda: ast.parse("a b"))
        self.assertEqual(in_turn(lambda: 1), 1, "whoever comes next has its turn")

    def test_one_parses_at_a_time(self) -> None:
        inside, most = [0], [0]

        def parse() -> None:
            inside[0] += 1
            most[0] = max(most[0], inside[0])
            ast.parse("x = [" + "1, " * 200 + "]")
            inside[0] -= 1

        threads = [threading.Thread(target=lambda: [in_turn(parse) for _ in range(30)]) for _ in range(4)]
        for one in threads:
            one.start()
        for one in threads:
            one.join()
        self.assertEqual(most[0], 1)

    def test_a_forked_process_does_not_wait_for_its_parents_turn(self) -> None:
        def fork() -> int:
            child = os.fork()
            if not child:
                os._exit(0 if in_turn(lambda: 3) == 3 else 1)
            return os.waitpid(child, 0)[1]

        self.assertEqual(in_turn(fork), 0)


if __name__ == "__main__":
    unittest.main()
