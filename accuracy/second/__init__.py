"""A second generator of surfaces: cut, stamped and ruled shapes.

It shares neither code nor drawing idea with the studio, so that the measures are not
tuned to one hand: outlines are polygons and ruled lines drawn at twice the size, colours
go through scikit-image, and no field of shaped noise is used.
"""
