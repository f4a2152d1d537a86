"""The pages Measure and Gauges."""
