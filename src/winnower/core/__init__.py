"""The computation: plain values and arrays in, plain values out. Imports nothing else of ours."""
