"""Coroutines, tasks, asynchronous generators, iterators and contexts."""
import asyncio
class Gate:
    async def __aenter__(self):
        await asyncio.sleep(0)
        return "open"
    async def __aexit__(self, kind, error, trace):
        print("shut", kind)
        return kind is ValueError
class Waves:
    def __init__(self):
        self.left = 2
    def __aiter__(self):
        return self
    async def __anext__(self):
        if not self.left:
            raise StopAsyncIteration
        self.left -= 1
        await asyncio.sleep(0)
        return self.left
async def readings(count):
    for level in range(count):
        await asyncio.sleep(0)
        yield level
async def measure(name, turns):
    total = 0
    for turn in range(turns):
        await asyncio.sleep(0)
        total = total + turn
        print(name, turn)
    return name, total
async def main():
    print(await asyncio.gather(measure("reef", 2), measure("mud", 3)))
    async with Gate() as state:
        print(state)
        raise ValueError("high")
    async for wave in Waves():
        print("wave", wave)
    print([level async for level in readings(3) if level], [await measure("pier", 1) for _ in range(1)])
    stream = readings(5)
    async for level in stream:
        if level == 1:
            break
    await stream.aclose()
    task = asyncio.create_task(measure("late", 9))
    await asyncio.sleep(0)
    task.cancel()
    try:
        await task
    except asyncio.CancelledError:
        print("cancelled")
asyncio.run(main())
