"""Where the current goes. One interface, :class:`FieldModel`, so that the model can be replaced.

The front door is here: the quick closed form (``estimate``), a plan solved on two meshes
(``plan_bath``), one mesh under the hand (``live``), and what a run keeps of it (``solved``). Behind
it, each resting on those before: ``integrals``, ``mesh``, ``assembly``, ``solver``, ``case``.
"""
