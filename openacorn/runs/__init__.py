"""What every run rests on: tasks as rows, groups of tasks that end whole, schedules, notices, watching."""
