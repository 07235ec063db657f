global using JadeOrchard.Core;
global using Microsoft.AspNetCore.Http.HttpResults;
