"""Measures of speed, as ratios to bare library calls on the same machine in the same run: ./check bench"""
