"""Results shown to others, and traces brought in: reports, exports, bringing in."""
