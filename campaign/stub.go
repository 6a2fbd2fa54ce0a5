package main

import "context"

func (c *Campaign) disk(context.Context) error    { return nil }
func (c *Campaign) crowd(context.Context) error   { return nil }
func (c *Campaign) garbage(context.Context) error { return nil }
func (c *Campaign) slow(context.Context) error    { return nil }
