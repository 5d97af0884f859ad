"""A bed of eelgrass, seen from above: each plant is a hexagon of six blades."""

import turtle


def plant(size):
    for _ in range(6):
        turtle.forward(size)
        turtle.right(60)


turtle.title("Bed 3")
turtle.pensize(3)
turtle.color("seagreen")
plant(60)
print("back at", round(turtle.xcor()), round(turtle.ycor()))
turtle.done()
