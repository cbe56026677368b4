"""What people practise: drills answered, knots tied before somebody; kept apart from every plan, log, run and piece of gear."""
