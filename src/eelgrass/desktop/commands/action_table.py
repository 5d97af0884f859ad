"""Every action of the window in one table: what it is called, its keys, its sign, what it does."""

from __future__ import annotations

from dataclasses import dataclass


@dataclass(frozen=True)
class Action:
    """An action. `group` is the menu that it stands in; a move is one of `reading.moves`, by its id; any other action
    calls the method of `MainWindow` that `call` names."""

    group: str
    id: str
    title: str
    tip: str
    keys: tuple[str, ...] = ()
    call: str = ""
    sign: str | None = None

    @property
    def is_move(self) -> bool:
        """Whether it leads to another step of the recording."""
        return not self.call


def _move(id_: str, title: str, tip: str, key: str, sign: str | None = None) -> Action:
    return Action("Move", id_, title, tip, (key,), sign=sign)


ACTIONS: tuple[Action, ...] = (
    _move("first", "Start", "Go to the first line of the run", "Home", "start"),
    _move("previous_line", "Back", "The line before, on this level", "Left", "back"),
    _move("out", "Out", "Out to where the caller goes on", "Up", "surface"),
    _move("into", "Into", "Into the call (the next line where there is none)", "Down", "dive"),
    _move("next_line", "On", "The next line, on this level", "Right", "onward"),
    _move("last", "End", "Go to the end of the run", "End", "end"),
    _move("previous_any", "Back, every line", "The line before, on any level", "Shift+Left"),
    _move("next_any", "On, every line", "The next line, on any level", "Shift+Right"),
    _move("call_of", "To the call", "Back to where this call was made", "Shift+Up"),
    _move("previous_pass", "Pass before", "The same line in the loop's pass before", "Ctrl+Left"),
    _move("next_pass", "Next pass", "The same line in the loop's next pass", "Ctrl+Right"),
    _move("first_pass", "First pass", "The first pass of the loop", "Ctrl+Home"),
    _move("last_pass", "Last pass", "The last pass of the loop", "Ctrl+End"),
    _move("past_loop", "Past the loop", "Over the rest of the loop", "Ctrl+Down"),
    _move("previous_visit", "Visit before", "The visit of this line before", "Alt+Left"),
    _move("next_visit", "Next visit", "The next visit of this line", "Alt+Right"),
    _move("previous_call", "Call before", "The call of this function before", "Alt+Up"),
    _move("next_call", "Next call", "The next call of this function", "Alt+Down"),
    _move("next_thread", "Other thread", "Where the next thread stands now", "M"),
    _move("previous_thread", "Thread before", "Where the thread before stands now", "Shift+M"),
    _move("previous_exception", "Exception before", "Where an exception passed before", "Shift+X"),
    _move("next_exception", "Next exception", "Where an exception passes next", "X"),
    Action("Go", "go_to", "Go to step…", "Go to a step by its number", ("Ctrl+G",), "ask_step"),
    Action("Go", "go_to_pass", "Go to pass…", "Go to a pass of this loop by its number", ("Ctrl+P",), "ask_pass"),
    Action("Go", "moves", "Back to the moves", "Out of a field: the keys move again", ("Esc",), "back_to_moves"),
    Action("Go", "next_part", "Next part", "The keys to the next part of the window", ("F6",), "next_part"),
    Action("Go", "part_before", "Part before", "The keys to the part before", ("Shift+F6",), "part_before"),
    Action("Go", "waterline", "To the waterline", "Bring the line about to run into view", ("W",), "show_waterline"),
    Action("Go", "bookmark", "Bookmark", "Set a bookmark at this step, or take it away", ("B",), "toggle_bookmark"),
    Action("Go", "breakpoint", "Breakpoint", "Set one on the line about to run", (".",), "toggle_breakpoint"),
    Action("Go", "new_mark", "Breakpoint…", "Stop, note or claim, anywhere", ("Ctrl+B",), "new_breakpoint"),
    Action("Go", "note", "Note…", "Note a text at this step", ("N",), "note"),
    Action("Go", "claim", "Claim…", "Claim that something always holds", ("C",), "claim"),
    Action("Go", "marks_off", "Breakpoints off", "All off, or on again", ("Shift+.", ":"), "switch_breakpoints"),
    Action("Go", "next_mark", "Next stop", "To the next breakpoint, bookmark or stop", ("PgDown",), "next_bookmark"),
    Action("Go", "previous_mark", "Stop before", "To the one before", ("PgUp",), "previous_bookmark"),
    Action("Go", "route", "The route", "Walk the planned stops, with what to say there", ("G",), "toggle_route"),
    Action("Go", "ask", "Ask…", "Ask for the value of any expression", ("A",), "ask"),
    Action("Go", "where_from", "Where from?", "Where a value came from: its trail", ("O",), "ask_where_from"),
    Action("Go", "kept_out", "What kept it out?", "Why a line did not run", ("K",), "ask_kept_out"),
    Action("Go", "trail_on", "Along the trail", "To the next link, further back", ("J",), "walk_trail"),
    Action("Go", "trail_back", "Back on the trail", "To the link before", ("Shift+J",), "walk_trail_back"),
    Action("Go", "why_no_end", "Why did it not end?", "What kept a stopped run going", (), "ask_no_end"),
    Action("Go", "clues", "Clues", "What looks like a usual mistake in this run", ("Shift+C",), "show_clues"),
    Action("Go", "table", "Trace table", "The trace table of this call, loop or stretch", ("T",), "show_table"),
    Action("Go", "pictures", "Pictures", "Pictures of data, in step with the line", ("D",), "show_pictures"),
    Action("Go", "play", "Play", "Walk on by itself, and stop again", ("Space",), "toggle_play"),
    Action("Go", "faster", "Faster", "Walk on faster", ("+", "="), "play_faster"),
    Action("Go", "slower", "Slower", "Walk on more slowly", ("-",), "play_slower"),
    Action("Program", "open", "Open…", "Open a program, a recording or an exercise", ("Ctrl+O",), "ask_open"),
    Action("Program", "open_folder", "Open a folder…", "A program of several files", (), "ask_open_folder"),
    Action("Program", "save", "Save recording…", "Save this recording as a file", ("Ctrl+S",), "ask_save"),
    Action("Program", "edit", "Edit the text", "Write in the text (Escape: done)", ("E",), "toggle_editing"),
    Action("Program", "save_text", "Save the text", "Save the program's text", ("Ctrl+Shift+S",), "save_text"),
    Action("Program", "run", "Run again", "Run the program again, with the same input", ("Ctrl+R",), "run_again"),
    Action("Program", "run_new", "Run with new input", "Run again, typing new input", ("Ctrl+Shift+R",), "run_anew"),
    Action("Program", "run_draw", "Run with new draw", "Run again, with other random numbers", ("Ctrl+D",), "run_draw"),
    Action("Program", "another_order", "Another order", "Run again, its threads in another order", (), "another_order"),
    Action("Program", "wrong_order", "A wrong order…", "Search an order that goes wrong", (), "wrong_order"),
    Action("Program", "case", "Arguments…", "What the program is started with", ("Ctrl+Shift+A",), "ask_arguments"),
    Action("Program", "call", "One call alone…", "Work out a call of one function", ("Ctrl+Shift+C",), "ask_call"),
    Action("Program", "keep_case", "Keep as a case…", "Keep arguments and input by a name", ("Ctrl+K",), "ask_case"),
    Action("Program", "drop_case", "Take the case away", "Forget the chosen case", (), "drop_case"),
    Action("Program", "library", "Look inside a library…", "Record library modules too", ("Ctrl+I",), "ask_library"),
    Action("Program", "limits", "Limits of a run…", "When it is stopped, how much is recorded", (), "ask_limits"),
    Action("Program", "leave", "What it may reach…", "Windows, the network, another folder", (), "ask_leave"),
    Action("Program", "python", "Which Python…", "What runs the programs of this folder", (), "ask_python"),
    Action("Program", "exercise", "The exercise", "Task, hints, cases, what was found", ("Q",), "show_exercise"),
    Action(
        "Program", "cases", "Run all cases", "Run all cases of the exercise, or all kept ones", ("Ctrl+T",), "run_cases"
    ),
    Action("Program", "answer", "Open an answer…", "Read a student's answer", ("Ctrl+Shift+O",), "ask_open_answer"),
    Action("Program", "given", "As it was given", "Begin again; what you wrote is kept", (), "begin_again"),
    Action("Program", "unit_tests", "Cases as unit tests…", "For Python's own test tools", (), "ask_save_unit_tests"),
    Action("Program", "make", "Make an exercise…", "Of this program, or go on with it", ("Ctrl+M",), "ask_make"),
    Action("Program", "stop", "Stop the run", "Stop the program and keep what is recorded", ("Ctrl+.",), "stop_run"),
    Action("Hand out", "page", "A page for browsers…", "One file to step through, without Eelgrass", (), "ask_page"),
    Action("Hand out", "sheet", "Desk check on paper…", "The trace table, to fill in with a pen", (), "show_sheet"),
    Action("Hand out", "handout", "The text on paper…", "With its margin notes as they are now", (), "show_handout"),
    Action(
        "Class", "class_set", "Class set…", "All that a class handed in, in groups", ("Ctrl+Shift+K",), "show_class_set"
    ),
    Action("Class", "names", "Names or numbers", "Whose hand-ins they are, or not", ("Ctrl+N",), "toggle_names"),
    Action("Class", "next_of_group", "Next of its group", "Which does the same", ("Alt+PgDown",), "next_of_group"),
    Action("Class", "of_group_before", "Before in its group", "The one before", ("Alt+PgUp",), "previous_of_group"),
    Action("Class", "leave_hand_in", "Back to the program", "The exercise’s own text again", (), "leave_hand_in"),
    Action("Beside", "compare", "Compare with…", "Put another run beside this one", ("Ctrl+E",), "ask_compare"),
    Action("Beside", "difference", "Next difference", "What differs next", ("U",), "next_difference"),
    Action("Beside", "difference_before", "Difference before", "The one before", ("Shift+U",), "previous_difference"),
    Action("Beside", "parting", "Where they part", "Where the runs part next", ("R",), "next_parting"),
    Action("Beside", "other_value", "Next other value", "Which value differs next", ("Shift+R",), "next_other_value"),
    Action(
        "Beside", "other_output", "Next other output", "What is printed otherwise", ("Ctrl+U",), "next_other_output"
    ),
    Action("Beside", "swap", "Here and there", "Put the other run on view, this one beside", ("H",), "swap_runs"),
    Action("Beside", "what_if", "What if…", "Go on from here with another value", ("I",), "ask_what_if"),
    Action("View", "working", "This line", "Show or hide how the line works out", ("L",), "show_working"),
    Action("View", "predict", "Say it first", "Say what comes next before it is shown", ("S",), "toggle_predict"),
    Action("View", "passes", "Passes side by side", "What each line did in each pass", ("V",), "toggle_passes"),
    Action("View", "tall", "Tall bench", "All the room on the right for the bench, or not", ("Y",), "toggle_tall"),
    Action("View", "present", "Present", "Large type, and only what a class needs to see", ("P",), "toggle_present"),
    Action("View", "larger", "Larger type", "Everything larger", ("Ctrl++", "Ctrl+="), "larger"),
    Action("View", "smaller", "Smaller type", "Everything smaller", ("Ctrl+-",), "smaller"),
    Action("View", "zoom_in", "Tide line closer", "Show fewer steps on the tide line", ("Z",), "zoom_in"),
    Action("View", "zoom_out", "Tide line further", "Show more steps on the tide line", ("Shift+Z",), "zoom_out"),
    Action("View", "whole", "The whole run", "Show the whole run on the tide line", ("0",), "zoom_whole"),
    Action("View", "focus", "Only this line's names", "Show only what this line uses, or all", ("F",), "toggle_focus"),
    Action("View", "look", "Next look", "Light, dark, or strong contrast", ("Ctrl+L",), "next_look"),
    Action("View", "keys", "Keys", "Show all keys", ("F1",), "show_keys"),
    Action("View", "manual", "Manual", "What can be done, page by page", ("Shift+F1",), "show_manual"),
    Action("View", "first_steps", "First steps", "How to move, in three sentences", (), "say_first_steps"),
)
