global using JadeOrchard.Core;
