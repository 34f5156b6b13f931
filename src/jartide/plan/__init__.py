"""From a reading to work: lay-ups, quantities, the schedule, rules and cautions."""
